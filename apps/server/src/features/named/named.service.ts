import type { EntitySchema } from 'typeorm';
import type { Database } from '../../db/database.ts';
import { notFound, StudioError } from '../../studio-error.ts';

/** Of such things as a studio keeps by name, for all pieces. */
export interface NamedKind<K extends string, T> {
  /** Its table: id, name, seq, and `key` as JSON. */
  entity: EntitySchema;
  key: K;
  schema: { parse(value: unknown): T };
  /** What one is called, and kept ones at the most. */
  what: string;
  most: number;
}
export type Named<K extends string, T> = { id: string; name: string } & Record<K, T>;
type Row = { id: string; name: string; seq: number } & Record<string, string | number>;

/** Keeps things by name. */
export class NamedService<K extends string, T> {
  constructor(
    private readonly db: Database,
    private readonly kind: NamedKind<K, T>,
  ) {}

  /** In the order that they were kept in. `damaged`: those that cannot be read any more. */
  async list(): Promise<{ kept: Named<K, T>[]; damaged: number }> {
    const rows = await this.db.read((m) => m.find(this.kind.entity, { order: { seq: 'ASC' } }));
    const kept = rows.flatMap((row) => this.readRow(row as Row) ?? []);
    return { kept, damaged: rows.length - kept.length };
  }

  /** The same id again changes nothing: the answer to the first may have been lost. */
  async keep({ id, name, ...held }: Named<K, T>): Promise<void> {
    const { entity, key, most, what } = this.kind;
    await this.db.write(async (m) => {
      if (await m.existsBy(entity, { id })) return;
      if ((await m.count(entity)) >= most) {
        throw new StudioError('refused', 'too-many', `There are ${most} ${what}s already.`, 'Delete one first.');
      }
      const seq = 1 + ((await m.maximum(entity, 'seq')) ?? 0);
      await m.insert(entity, { id, name, [key]: JSON.stringify((held as unknown as Record<K, T>)[key]), seq });
    });
  }

  async rename(id: string, name: string): Promise<void> {
    const { affected } = await this.db.write((m) => m.update(this.kind.entity, { id }, { name }));
    if (!affected) throw notFound(this.kind.what);
  }

  /** One that is gone already is no error. */
  async remove(id: string): Promise<void> {
    await this.db.write((m) => m.delete(this.kind.entity, { id }));
  }

  private readRow(row: Row): Named<K, T> | null {
    const { key, schema } = this.kind;
    try {
      return { id: row.id, name: row.name, [key]: schema.parse(JSON.parse(String(row[key]))) } as Named<K, T>;
    } catch {
      return null;
    }
  }
}
