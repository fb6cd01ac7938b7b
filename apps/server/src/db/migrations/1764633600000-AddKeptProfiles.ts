import type { MigrationInterface, QueryRunner } from 'typeorm';

export class AddKeptProfiles1764633600000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "kept_profile" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "profile" text NOT NULL, "seq" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "kept_profile"`);
  }
}
