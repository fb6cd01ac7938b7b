import type { MigrationInterface, QueryRunner } from 'typeorm';

export class AddKeptStarts1764806400000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "kept_start" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "start" text NOT NULL, "seq" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "kept_start"`);
  }
}
