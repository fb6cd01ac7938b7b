import type { MigrationInterface, QueryRunner } from 'typeorm';

export class AddKeptOutputs1764720000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "kept_output" ("pieceId" text PRIMARY KEY NOT NULL, "folder" text NOT NULL, "written" text, "pending" text)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "kept_output"`);
  }
}
