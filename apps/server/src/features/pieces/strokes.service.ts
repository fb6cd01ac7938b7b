import { isDeepStrictEqual } from 'node:util';
import type { PieceDoc, Stroke } from '@lithe-sieve/core';
import { strokeIdsOf, tipsOf } from '@lithe-sieve/host';
import { In, type EntityManager } from 'typeorm';
import type { Database } from '../../db/database.ts';
import { SourceFile } from '../../db/entities/source.ts';
import { StrokeEntity } from '../../db/entities/stroke.ts';
import { StudioError } from '../../studio-error.ts';
import { badEdit } from './patched.ts';

/** SQLite takes a few thousand values at once. */
export const AT_ONCE = 900;

/**
 * Strokes are kept apart from the documents that name them: they never change, and a document of thousands of them stays
 * small. A copy of a piece names the same ones.
 */
export class StrokesService {
  constructor(private readonly db: Database) {}

  /** @throws StudioError `bad-edit` where an id is taken by another stroke, or the file of a brush's tip is not here. */
  async keep(m: EntityManager, pieceId: string, strokes: readonly Stroke[]): Promise<void> {
    for (const stroke of strokes) {
      const known = await m.findOneBy(StrokeEntity, { id: stroke.id });
      if (!known) await m.insert(StrokeEntity, { id: stroke.id, pieceId, data: JSON.stringify(stroke) });
      else if (!isDeepStrictEqual(JSON.parse(known.data), JSON.parse(JSON.stringify(stroke)))) {
        throw badEdit(`Two strokes share the id ${stroke.id}.`);
      }
    }
    for (const sha256 of tipsOf(strokes)) {
      if (await m.existsBy(SourceFile, { sha256 })) continue;
      throw new StudioError(
        'refused',
        'missing-source',
        `The picture of the brush tip (SHA-256 ${sha256.slice(0, 12)}…) is not in the studio.`,
        'Choose the tip again, then draw the stroke again.',
      );
    }
  }

  /** @throws StudioError `bad-edit` where the document names a stroke that was never sent. */
  async assertKept(m: EntityManager, doc: PieceDoc, before: PieceDoc | null): Promise<void> {
    const old = new Set(before ? strokeIdsOf(before) : []);
    const fresh = strokeIdsOf(doc).filter((id) => !old.has(id));
    const kept = new Set((await this.rowsOf(m, fresh)).map((r) => r.id));
    const missing = fresh.find((id) => !kept.has(id));
    if (missing) throw badEdit(`The stroke ${missing} was never sent.`);
  }

  /** All that a document names. */
  async ofDoc(doc: PieceDoc): Promise<Stroke[]> {
    const ids = strokeIdsOf(doc);
    const rows = ids.length === 0 ? [] : await this.db.read((m) => this.rowsOf(m, ids));
    return rows.filter(isReadable).map((r) => JSON.parse(r.data) as Stroke);
  }

  /** As JSON text, one after the other: all that a document names, and those of the piece that were undone. */
  async textsOf(pieceId: string, doc: PieceDoc): Promise<string[]> {
    return this.db.read(async (m) => {
      const own = await m.findBy(StrokeEntity, { pieceId });
      const held = new Set(own.map((r) => r.id));
      const others = await this.rowsOf(
        m,
        strokeIdsOf(doc).filter((id) => !held.has(id)),
      );
      return [...own, ...others].filter(isReadable).map((r) => r.data);
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

/** A stroke that is damaged is left out: the step that names it says that it is missing, and all else goes on. */
function isReadable({ data }: { data: string }): boolean {
  try {
    JSON.parse(data);
    return true;
  } catch {
    return false;
  }
}
