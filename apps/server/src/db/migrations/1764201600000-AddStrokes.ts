import type { MigrationInterface, QueryRunner } from 'typeorm';

export class AddStrokes1764201600000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "stroke" ("id" text PRIMARY KEY NOT NULL, "pieceId" text NOT NULL, "data" text NOT NULL)`,
    );
    await runner.query(`CREATE INDEX "stroke_of_piece" ON "stroke" ("pieceId")`);
    await runner.query(`ALTER TABLE "piece" ADD COLUMN "lastEdits" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "piece" DROP COLUMN "lastEdits"`);
    await runner.query(`DROP TABLE "stroke"`);
  }
}
