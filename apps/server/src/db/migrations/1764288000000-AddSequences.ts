import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Order by counting instead of by the clock; tries of a job; what the Stock lists of a piece in columns of its own; what
 * was followed, and since when nothing names a source.
 */
export class AddSequences1764288000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "job" ADD COLUMN "seq" integer NOT NULL DEFAULT (0)`);
    await runner.query(`ALTER TABLE "job" ADD COLUMN "tries" integer NOT NULL DEFAULT (0)`);
    await runner.query(`UPDATE "job" SET "seq" = rowid`);
    await runner.query(`CREATE INDEX "job_of_piece" ON "job" ("pieceId", "seq")`);
    for (const column of ['changeSeq', 'steps', 'width', 'height']) {
      await runner.query(`ALTER TABLE "piece" ADD COLUMN "${column}" integer NOT NULL DEFAULT (0)`);
    }
    await runner.query(`ALTER TABLE "piece" ADD COLUMN "name" text NOT NULL DEFAULT ('')`);
    await runner.query(`ALTER TABLE "piece" ADD COLUMN "mode" text NOT NULL DEFAULT ('mask')`);
    await runner.query(
      `UPDATE "piece" SET "changeSeq" = (SELECT count(*) FROM "piece" p WHERE p."updatedAt" < "piece"."updatedAt"
        OR (p."updatedAt" = "piece"."updatedAt" AND p.rowid <= "piece".rowid))`,
    );
    // a damaged document stays as it is: it is shown as damaged, and must not keep the others from opening
    await runner.query(
      `UPDATE "piece" SET
        "name" = coalesce(json_extract("doc", '$.name'), ''),
        "mode" = coalesce(json_extract("doc", '$.material.mode'), 'mask'),
        "steps" = coalesce(json_array_length("doc", '$.run'), 0),
        "width" = coalesce((SELECT json_extract(f."facts", '$.width') FROM "source_file" f
          WHERE f."sha256" = json_extract("doc", '$.sources[0].sha256') AND json_valid(f."facts")), 0),
        "height" = coalesce((SELECT json_extract(f."facts", '$.height') FROM "source_file" f
          WHERE f."sha256" = json_extract("doc", '$.sources[0].sha256') AND json_valid(f."facts")), 0)
        WHERE json_valid("doc")`,
    );
    await runner.query(`ALTER TABLE "history_entry" ADD COLUMN "followed" integer NOT NULL DEFAULT (0)`);
    await runner.query(`ALTER TABLE "source_file" ADD COLUMN "followed" integer NOT NULL DEFAULT (0)`);
    await runner.query(`ALTER TABLE "source_file" ADD COLUMN "unnamedSince" text`);
    await runner.query(`CREATE INDEX "piece_in_order" ON "piece" ("changeSeq")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP INDEX "piece_in_order"`);
    await runner.query(`ALTER TABLE "source_file" DROP COLUMN "unnamedSince"`);
    await runner.query(`ALTER TABLE "source_file" DROP COLUMN "followed"`);
    await runner.query(`ALTER TABLE "history_entry" DROP COLUMN "followed"`);
    for (const column of ['mode', 'name', 'height', 'width', 'steps', 'changeSeq']) {
      await runner.query(`ALTER TABLE "piece" DROP COLUMN "${column}"`);
    }
    await runner.query(`DROP INDEX "job_of_piece"`);
    for (const column of ['tries', 'seq']) await runner.query(`ALTER TABLE "job" DROP COLUMN "${column}"`);
  }
}
