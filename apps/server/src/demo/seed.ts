import { DEMO_ATLASES, DEMO_CARDS, DEMO_PIECES, leafMeshObj } from '@lithe-sieve/demo';
import { grownPiece, STARTING_POINTS } from '@lithe-sieve/core';
import { newId } from '../new-id.ts';
import type { App } from '../app.ts';
import type { DrawnDemo } from '../worker/tasks.ts';
import type { WorkerPool } from '../worker/pool.ts';
import { shared } from '../worker/pool.ts';

const ON_A_MESH = { of: 'Leaf with all its maps', name: 'Leaf on a mesh' };

/** What is grown from recipes, the last one first. */
const GROWN = ['Crab net', 'Torn awning', 'Chain fence', 'Wattle hurdle', 'Glasswort spray', 'Sea-aster twig'];

/**
 * Draws the demo pieces, on all worker threads at once, and brings them in as a person would. What the Stock shows of them
 * is computed when it ends.
 */
export async function seedDemo(pool: WorkerPool, { sources, meshes, pieces, summaries }: App): Promise<void> {
  const shown: Promise<void>[] = [];
  const show = (id: string) => shown.push(summaries.make(id).catch(() => undefined)); // one that fails says so in the Stock
  const grow = async (point: string, name = point) => {
    const found = STARTING_POINTS.find((p) => p.name === point);
    if (found) show(await pieces.copy({ doc: { ...grownPiece({ ...found, name }, newId), ...DEMO_CARDS[name] } }));
  };
  const bringIn = async ({ name, cardWidth, files, more, recipe, set }: DrawnDemo) => {
    const stored = [];
    for (const { fileName, bytes } of files) {
      const { sha256 } = await sources.bringIn(fileName, shared(bytes), new AbortController().signal);
      stored.push({ sha256, fileName });
    }
    const id = recipe
      ? await pieces.copy({
          doc: { ...grownPiece({ name, recipe, cardWidth }, newId), ...(set && { set }), ...DEMO_CARDS[name] },
        })
      : await pieces.create({ name, cardWidth, sources: stored, more, card: DEMO_CARDS[name] });
    show(id);
    if (name === ON_A_MESH.of) await layOnMesh(id);
  };
  /** The same files once more, on a mesh as somebody may have modelled it. */
  const layOnMesh = async (id: string) => {
    const bytes = shared(new TextEncoder().encode(leafMeshObj()));
    const { sha256, fileName } = await meshes.bringIn('leaf.obj', bytes, new AbortController().signal);
    const mesh = { sha256, fileName, metres: 0.01, up: 'z' as const };
    show(await pieces.copy({ doc: { ...(await pieces.docOf(id)), name: ON_A_MESH.name, mesh } }));
  };

  // the Stock lists the newest first: these come after what is drawn
  for (const name of GROWN) await grow(name);
  const tasks = DEMO_PIECES.length + DEMO_ATLASES.length;
  const drawn = await Promise.all(Array.from({ length: tasks }, (_, index) => pool.run({ kind: 'draw-demo', index })));
  for (const [i, piece] of drawn.toReversed().entries()) {
    if (i === tasks - 1) await grow('Cordgrass', 'Cordgrass card');
    await bringIn(piece);
  }
  await Promise.all(shown);
}
