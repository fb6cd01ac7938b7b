import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What the full size of a piece came to, and proxies that are shrunk as values; what a stroke does is called `effect`, it
 * was `says`.
 */
export class AddFullSize1764374400000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "piece" ADD COLUMN "fullSize" text`);
    await runner.query(`ALTER TABLE "source_file" ADD COLUMN "proxyMore" blob`);
    await renameInStrokes(runner, 'says', 'effect');
  }

  async down(runner: QueryRunner): Promise<void> {
    await renameInStrokes(runner, 'effect', 'says');
    await runner.query(`ALTER TABLE "source_file" DROP COLUMN "proxyMore"`);
    await runner.query(`ALTER TABLE "piece" DROP COLUMN "fullSize"`);
  }
}

/** A stroke that is damaged stays as it is. */
async function renameInStrokes(runner: QueryRunner, from: string, to: string): Promise<void> {
  await runner.query(
    `UPDATE "stroke" SET "data" = json_remove(json_set("data", '$.${to}', json_extract("data", '$.${from}')), '$.${from}')
      WHERE json_valid("data") AND json_extract("data", '$.${from}') IS NOT NULL`,
  );
}
