import { In, IsNull, LessThan, Not, type EntityManager } from 'typeorm';
import { BlobChunk } from '../entities/blob.ts';
import { JobEntity } from '../entities/job.ts';
import { History, PieceEntity } from '../entities/piece.ts';
import { SourceFile } from '../entities/source.ts';
import { StrokeEntity } from '../entities/stroke.ts';
import { StandView } from '../entities/named.ts';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
/** What a page may have sent and not yet named: no file that came in later is deleted. */
const FRESH_MS = HOUR_MS;
/** A version of a followed file is named within seconds, or sent again. */
const FRESH_FOLLOWED_MS = MINUTE_MS;
const SHA256 = /\b[0-9a-f]{64}\b/g;
/** Files deleted in one turn. */
export const FILES_AT_ONCE = 8;

/** The moment so long ago; a millisecond later than now for 0, so that what was just noted counts. */
export const before = (ageMs: number) => new Date(Date.now() - ageMs + 1).toISOString();

/** Every file that a document, a history, a stroke, a view or a hand-off names; damaged ones hold what can still be read of them. */
export async function namedFiles(m: EntityManager): Promise<Set<string>> {
  const named = new Set<string>();
  const take = (text: string | null) => text?.match(SHA256)?.forEach((sha256) => named.add(sha256));
  for (const { doc } of await m.find(PieceEntity, { select: { id: true, doc: true } })) take(doc);
  const entries = await m.query<{ text: string }[]>(
    `SELECT patches || inverse AS text FROM history_entry WHERE patches LIKE '%sha256%' OR inverse LIKE '%sha256%'
     OR patches LIKE '%sources%' OR inverse LIKE '%sources%'`,
  );
  for (const { text } of entries) take(text);
  const strokes = await m.query<{ data: string }[]>(`SELECT data FROM stroke WHERE data LIKE '%"tip":"piece"%'`);
  for (const { data } of strokes) take(data);
  for (const { request } of await m.find(JobEntity, { select: { id: true, request: true } })) take(request);
  for (const { look } of await m.find(StandView)) take(look);
  return named;
}

/** Some of the files that can go; none where anything is damaged: what it named cannot be known. */
export async function dropUnnamed(m: EntityManager, age: number): Promise<{ sha256: string; bytes: number }[]> {
  if (await isDamaged(m)) return [];
  const due = await m.find(SourceFile, {
    where: [
      { unnamedSince: LessThan(before(age)), createdAt: LessThan(before(FRESH_MS)), followed: 0 },
      { unnamedSince: Not(IsNull()), createdAt: LessThan(before(FRESH_FOLLOWED_MS)), followed: 1 },
    ],
    select: { sha256: true, bytes: true },
    take: FILES_AT_ONCE,
  });
  const named = await namedFiles(m); // once more, in the same transaction
  const handedOff = await filesOfHandOffs(m);
  for (const { sha256 } of due) {
    if (named.has(sha256)) await m.update(SourceFile, { sha256 }, { unnamedSince: null });
    else {
      await m.delete(SourceFile, { sha256 });
      if (!handedOff.has(sha256)) await m.delete(BlobChunk, { sha256 });
    }
  }
  return due;
}

async function isDamaged(m: EntityManager): Promise<boolean> {
  const [{ n }] = await m.query<{ n: number }[]>(
    `SELECT (SELECT count(*) FROM piece WHERE NOT json_valid(doc)) +
     (SELECT count(*) FROM history_entry WHERE NOT (json_valid(patches) AND json_valid(inverse))) AS n`,
  );
  return n > 0;
}

async function filesOfHandOffs(m: EntityManager): Promise<Set<string>> {
  const jobs = await m.find(JobEntity, { select: { id: true, report: true } });
  return new Set(jobs.flatMap(({ report }) => report?.match(SHA256) ?? []));
}

/** Pieces that were deleted before `when`, with their history, strokes and hand-offs. */
export async function dropDeletedPieces(m: EntityManager, when: string): Promise<number> {
  const ids = (await m.find(PieceEntity, { where: { deletedAt: LessThan(when) }, select: { id: true } })).map(
    (p) => p.id,
  );
  for (const id of ids) {
    const strokes = await m.find(StrokeEntity, { where: { pieceId: id }, select: { id: true } });
    await m.delete(PieceEntity, { id });
    await m.delete(History, { pieceId: id });
    await dropStrokes(
      m,
      strokes.map((s) => s.id),
    );
    const jobs = await m.find(JobEntity, { where: { pieceId: id } });
    await m.delete(JobEntity, { pieceId: id });
    const held = await filesOfHandOffs(m);
    for (const sha256 of new Set(jobs.flatMap(({ report }) => report?.match(SHA256) ?? []))) {
      if (!held.has(sha256) && !(await m.existsBy(SourceFile, { sha256 }))) await m.delete(BlobChunk, { sha256 });
    }
  }
  return ids.length;
}

/** Copies of a piece name the same strokes: those stay. */
async function dropStrokes(m: EntityManager, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const docs = await m.query<{ text: string }[]>(
    `SELECT doc AS text FROM piece WHERE doc LIKE '%"strokes"%' UNION ALL
     SELECT patches || inverse FROM history_entry WHERE patches LIKE '%strokes%' OR inverse LIKE '%strokes%'`,
  );
  const all = docs.map((d) => d.text).join('\n');
  const gone = ids.filter((id) => !all.includes(`"${id}"`));
  for (let i = 0; i < gone.length; i += 900) await m.delete(StrokeEntity, { id: In(gone.slice(i, i + 900)) });
}
