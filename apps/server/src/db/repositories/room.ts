import type { EntityManager } from 'typeorm';

/** What one kind of thing takes: bytes, and how many there are. */
export interface Room {
  bytes: number;
  count: number;
}

const PARTS = {
  sources:
    'SELECT sum(bytes + length(proxy) + coalesce(length(proxyMore), 0)) AS bytes, count(*) AS count FROM source_file',
  'hand-offs': `SELECT sum(length(data)) AS bytes, count(DISTINCT sha256) AS count FROM blob_chunk
    WHERE sha256 NOT IN (SELECT sha256 FROM source_file)`,
  history: 'SELECT sum(length(patches) + length(inverse)) AS bytes, count(*) AS count FROM history_entry',
  strokes: 'SELECT sum(length(data)) AS bytes, count(*) AS count FROM stroke',
  pictures: 'SELECT sum(length(picture) + ifnull(length(view), 0)) AS bytes, count(picture) AS count FROM piece',
} as const;

const UNNAMED = 'SELECT sum(bytes) AS bytes, count(*) AS count FROM source_file WHERE "unnamedSince" IS NOT NULL';

/** What takes room in the studio file, part by part. */
export async function roomOfParts(m: EntityManager): Promise<(Room & { what: keyof typeof PARTS })[]> {
  const parts = [];
  for (const what of Object.keys(PARTS) as (keyof typeof PARTS)[])
    parts.push({ what, ...(await room(m, PARTS[what])) });
  return parts;
}

/** Room of sources that nothing names. */
export function roomOfUnnamed(m: EntityManager): Promise<Room> {
  return room(m, UNNAMED);
}

async function room(m: EntityManager, sql: string): Promise<Room> {
  const [{ bytes, count }] = await m.query<{ bytes: number | null; count: number }[]>(sql);
  return { bytes: bytes ?? 0, count };
}

/** Pages of the file that hold nothing, and how long a page is. */
export async function emptyPages(m: EntityManager): Promise<{ pages: number; pageBytes: number }> {
  return { pages: await pragma(m, 'freelist_count'), pageBytes: await pragma(m, 'page_size') };
}

/** Whether SQLite can give pages back in small turns; earlier studios cannot. */
export async function givesBackByItself(m: EntityManager): Promise<boolean> {
  return (await pragma(m, 'auto_vacuum')) === 2;
}

export async function giveBackPages(m: EntityManager, pages: number): Promise<void> {
  await m.query(`PRAGMA incremental_vacuum(${pages})`);
}

async function pragma(m: EntityManager, name: 'freelist_count' | 'page_size' | 'auto_vacuum'): Promise<number> {
  const [row] = await m.query<Record<string, number>[]>(`PRAGMA ${name}`);
  return row[name];
}
