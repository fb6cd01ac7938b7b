import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a piece shows when it is opened, before anything is computed, and the revision that a page made it of. */
export class AddViews1764460800000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "piece" ADD COLUMN "view" blob`);
    await runner.query(`ALTER TABLE "piece" ADD COLUMN "viewRevision" integer`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "piece" DROP COLUMN "viewRevision"`);
    await runner.query(`ALTER TABLE "piece" DROP COLUMN "view"`);
  }
}
