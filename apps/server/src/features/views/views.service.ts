import { MOST_VIEWS, standLookSchema, type NamedView, type ViewList } from '@lithe-sieve/contract';
import type { Database } from '../../db/database.ts';
import { StandView, type StandViewRow } from '../../db/entities/view.ts';
import { notFound, StudioError } from '../../studio-error.ts';

/** Views of the Stand that are kept by name, for all pieces. */
export class ViewsService {
  constructor(private readonly db: Database) {}

  /** In the order that they were kept in. */
  async list(): Promise<ViewList> {
    const rows = await this.db.read((m) => m.find(StandView, { order: { seq: 'ASC' } }));
    const views = rows.flatMap((row) => readView(row) ?? []);
    return { views, damaged: rows.length - views.length };
  }

  /** The same id again changes nothing: the answer to the first may have been lost. */
  async keep({ id, name, look }: NamedView): Promise<void> {
    await this.db.write(async (m) => {
      if (await m.existsBy(StandView, { id })) return;
      if ((await m.count(StandView)) >= MOST_VIEWS) {
        throw new StudioError('refused', 'too-many', `There are ${MOST_VIEWS} views already.`, 'Delete one first.');
      }
      const seq = 1 + ((await m.maximum(StandView, 'seq')) ?? 0);
      await m.insert(StandView, { id, name, look: JSON.stringify(look), seq });
    });
  }

  async rename(id: string, name: string): Promise<void> {
    const { affected } = await this.db.write((m) => m.update(StandView, { id }, { name }));
    if (!affected) throw notFound('view');
  }

  /** One that is gone already is no error. */
  async remove(id: string): Promise<void> {
    await this.db.write((m) => m.delete(StandView, { id }));
  }
}

function readView({ id, name, look }: StandViewRow): NamedView | null {
  try {
    return { id, name, look: standLookSchema.parse(JSON.parse(look)) };
  } catch {
    return null;
  }
}
