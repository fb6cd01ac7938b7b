import { DEMO_PIECES } from '@lithe-sieve/demo';
import { grownPiece, STARTING_POINTS } from '@lithe-sieve/core';
import { newId } from '../new-id.ts';
import type { PiecesService } from '../features/pieces/pieces.service.ts';
import type { SourcesService } from '../features/sources/sources.service.ts';
import type { WorkerPool } from '../worker/pool.ts';
import { shared } from '../worker/pool.ts';

/** What is grown from recipes, the last one first. */
const GROWN = ['Torn awning', 'Chain fence', 'Wattle hurdle', 'Glasswort spray', 'Sea-aster twig'];

/** Draws the demo pieces, on all worker threads at once, and brings them in as a person would. */
export async function seedDemo(pool: WorkerPool, sources: SourcesService, pieces: PiecesService): Promise<void> {
  // the Stock lists the newest first: these come after what is drawn
  for (const name of GROWN) {
    const point = STARTING_POINTS.find((p) => p.name === name);
    if (point) await pieces.copy({ doc: grownPiece(point, newId) });
  }
  const drawn = await Promise.all(DEMO_PIECES.map((_, index) => pool.run({ kind: 'draw-demo', index })));
  for (const { name, cardWidth, files, more } of drawn.reverse()) {
    const stored = [];
    for (const { fileName, bytes } of files) {
      const { sha256 } = await sources.bringIn(fileName, shared(bytes), new AbortController().signal);
      stored.push({ sha256, fileName });
    }
    await pieces.create({ name, cardWidth, sources: stored, more });
  }
}
