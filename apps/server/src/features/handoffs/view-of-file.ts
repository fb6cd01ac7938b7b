import { makePicture, readStrictGlb, writePng } from '@lithe-sieve/core';
import { deflateInStrips } from '@lithe-sieve/host';
import { notFound } from '../../studio-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';

/** Longest side of what is shown of a file, texels: as of a source that a screen is filled with. */
const VIEW_SIDE = 2048;

/** What a written file shows, as a PNG; of a scene file its base colour. @throws StudioError where there is no picture. */
export async function viewOfFile(
  pool: WorkerPool,
  name: string,
  bytes: Uint8Array,
  signal: AbortSignal,
): Promise<Uint8Array> {
  const picture = /\.glb$/i.test(name) ? readStrictGlb(bytes).baseColour?.bytes : bytes;
  if (!picture || /\.json$/i.test(name)) throw notFound('picture');
  const { proxy } = await pool.run({ kind: 'inspect', bytes: picture, side: VIEW_SIDE }, { signal });
  return writePng(makePicture(proxy.width, proxy.height, proxy.rgba), deflateInStrips);
}
