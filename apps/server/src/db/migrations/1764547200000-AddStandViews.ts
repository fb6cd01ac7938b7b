import type { MigrationInterface, QueryRunner } from 'typeorm';

export class AddStandViews1764547200000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "stand_view" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "look" text NOT NULL, "seq" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "stand_view"`);
  }
}
