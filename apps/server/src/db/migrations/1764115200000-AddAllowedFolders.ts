import type { MigrationInterface, QueryRunner } from 'typeorm';

export class AddAllowedFolders1764115200000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "allowed_folder" ("path" text PRIMARY KEY NOT NULL)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "allowed_folder"`);
  }
}
