import type { EntityManager } from 'typeorm';

/** The next number of a column that counts up. Inside a change: no other one comes between. */
export async function nextOf(m: EntityManager, table: 'job' | 'piece', column: 'seq' | 'changeSeq'): Promise<number> {
  const rows: { last: number | null }[] = await m.query(`SELECT max("${column}") AS last FROM "${table}"`);
  return (rows[0].last ?? 0) + 1;
}
