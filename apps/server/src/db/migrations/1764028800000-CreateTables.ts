import type { MigrationInterface, QueryRunner } from 'typeorm';

export class CreateTables1764028800000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "blob_chunk" ("sha256" text NOT NULL, "idx" integer NOT NULL, "data" blob NOT NULL, PRIMARY KEY ("sha256", "idx"))`,
    );
    await runner.query(
      `CREATE TABLE "source_file" ("sha256" text PRIMARY KEY NOT NULL, "bytes" integer NOT NULL, "facts" text NOT NULL, "proxyWidth" integer NOT NULL, "proxyHeight" integer NOT NULL, "proxy" blob NOT NULL, "createdAt" text NOT NULL)`,
    );
    await runner.query(
      `CREATE TABLE "piece" ("id" text PRIMARY KEY NOT NULL, "revision" integer NOT NULL, "position" integer NOT NULL, "doc" text NOT NULL, "createdAt" text NOT NULL, "updatedAt" text NOT NULL, "deletedAt" text, "handedOffAt" text, "summaryRevision" integer, "summary" text, "picture" blob)`,
    );
    await runner.query(
      `CREATE TABLE "history_entry" ("pieceId" text NOT NULL, "seq" integer NOT NULL, "label" text NOT NULL, "patches" text NOT NULL, "inverse" text NOT NULL, PRIMARY KEY ("pieceId", "seq"))`,
    );
    await runner.query(
      `CREATE TABLE "job" ("id" text PRIMARY KEY NOT NULL, "pieceId" text NOT NULL, "state" text NOT NULL, "request" text NOT NULL, "error" text, "report" text, "createdAt" text NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['job', 'history_entry', 'piece', 'source_file', 'blob_chunk']) {
      await runner.query(`DROP TABLE "${table}"`);
    }
  }
}
