import { isDeepStrictEqual } from 'node:util';
import type { PieceDoc, Stroke } from '@lithe-sieve/core';
import { In, type EntityManager } from 'typeorm';
import type { Database } from '../../db/database.ts';
import { StrokeEntity } from '../../db/entities.ts';
import { AppError } from '../../http/app-error.ts';

/** SQLite takes a few thousand values at once. */
const AT_ONCE = 900;

/**
 * Strokes are kept apart from the documents that name them: they never change, and a document of thousands of them stays
 * small. A copy of a piece names the same ones.
 */
export class StrokesService {
  constructor(private readonly db: Database) {}

  /** @throws AppError `bad-edit` where an id is taken by another stroke. */
  async keep(m: EntityManager, pieceId: string, strokes: readonly Stroke[]): Promise<void> {
    for (const stroke of strokes) {
      const known = await m.findOneBy(StrokeEntity, { id: stroke.id });
      if (!known) await m.insert(StrokeEntity, { id: stroke.id, pieceId, data: JSON.stringify(stroke) });
      else if (!isDeepStrictEqual(JSON.parse(known.data), JSON.parse(JSON.stringify(stroke)))) {
        throw new AppError(400, 'bad-edit', `Two strokes share the id ${stroke.id}.`, 'Reload the page.');
      }
    }
  }

  /** @throws AppError `bad-edit` where the document names a stroke that was never sent. */
  async assertKept(m: EntityManager, doc: PieceDoc, before: PieceDoc): Promise<void> {
    const old = new Set(strokeIdsOf(before));
    const fresh = strokeIdsOf(doc).filter((id) => !old.has(id));
    const kept = new Set((await this.rowsOf(m, fresh)).map((r) => r.id));
    const missing = fresh.find((id) => !kept.has(id));
    if (missing) throw new AppError(400, 'bad-edit', `The stroke ${missing} was never sent.`, 'Reload the page.');
  }

  /** All that a document names. */
  async ofDoc(doc: PieceDoc): Promise<Stroke[]> {
    const ids = strokeIdsOf(doc);
    const rows = ids.length === 0 ? [] : await this.db.run((m) => this.rowsOf(m, ids));
    return rows.map((r) => JSON.parse(r.data) as Stroke);
  }

  /** As JSON text, one after the other: all that a document names, and those of the piece that were undone. */
  async textsOf(pieceId: string, doc: PieceDoc): Promise<string[]> {
    return this.db.run(async (m) => {
      const own = await m.findBy(StrokeEntity, { pieceId });
      const held = new Set(own.map((r) => r.id));
      const others = await this.rowsOf(
        m,
        strokeIdsOf(doc).filter((id) => !held.has(id)),
      );
      return [...own, ...others].map((r) => r.data);
    });
  }

  private async rowsOf(m: EntityManager, ids: readonly string[]) {
    const out = [];
    for (let i = 0; i < ids.length; i += AT_ONCE) {
      out.push(...(await m.findBy(StrokeEntity, { id: In(ids.slice(i, i + AT_ONCE)) })));
    }
    return out;
  }
}

function strokeIdsOf(doc: PieceDoc): string[] {
  return doc.run.flatMap((step) => (step.kind === 'strokes' ? step.params.strokes : []));
}

/** Files of the tips that strokes were drawn with. */
export function tipsOf(strokes: readonly Stroke[]): string[] {
  const files = strokes.flatMap((s) => (s.kind === 'brush' && s.brush.tip === 'piece' ? [s.brush.picture] : []));
  return [...new Set(files)].filter(Boolean);
}
