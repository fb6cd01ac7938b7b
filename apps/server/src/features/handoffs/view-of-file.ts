import { makePicture, readStrictGlb, readUsdz, writePng } from '@lithe-sieve/core';
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
  const picture = pictureIn(name, bytes);
  if (!picture) throw notFound('picture');
  const { proxy } = await pool.run({ kind: 'inspect', bytes: picture, side: VIEW_SIDE }, { signal });
  return writePng(makePicture(proxy.width, proxy.height, proxy.rgba), deflateInStrips);
}

function pictureIn(name: string, bytes: Uint8Array): Uint8Array | undefined {
  if (/\.glb$/i.test(name)) return readStrictGlb(bytes).baseColour?.bytes;
  if (/\.usdz$/i.test(name)) return readUsdz(bytes).find((f) => f.name === 'base.png')?.bytes;
  return /\.(png|tga|tif|dds|webp|ktx2)$/i.test(name) ? bytes : undefined;
}
