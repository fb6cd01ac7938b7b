import {
  filterRows,
  formatOf,
  type FilePlan,
  type PieceDoc,
  type Raster,
  type RunResult,
  type RunState,
  type Samples,
} from '@lithe-sieve/core';

/**
 * About how many bytes each of these files will have; null: a few. Rows from all over the picture are filtered and
 * deflated, never the whole file.
 */
export async function estimateSizes(
  run: RunResult,
  plans: readonly FilePlan[],
  doc: Pick<PieceDoc, 'sides'>,
): Promise<(number | null)[]> {
  const sizes: (number | null)[] = [];
  const rows = (from: number, to: number) => rowsOfRun(run, from, to);
  for (const plan of plans) {
    const estimate = formatOf(plan).estimate(plan, run, rows, doc);
    sizes.push('bytes' in estimate ? estimate.bytes : await sizeOf(estimate.height, estimate.textures));
  }
  return sizes;
}

function rowsOfRun({ colour, mask, maps }: RunState, from: number, to: number): RunState {
  return {
    colour: rowsOf(colour, from, to),
    mask: rowsOf(mask, from, to),
    maps: new Map([...maps].map(([name, raster]) => [name, rowsOf(raster, from, to)])),
  };
}

function rowsOf<R extends Raster<Samples>>(raster: R, from: number, to: number): R {
  const line = raster.channels * raster.width;
  return { ...raster, height: to - from, data: raster.data.subarray(line * from, line * to) };
}

const STRIPES = 24;
const STRIPE_ROWS = 16;

async function sizeOf(
  height: number,
  texturesIn: (from: number, to: number) => readonly (Raster<Samples> | null)[],
): Promise<number> {
  const stripes = Math.min(STRIPES, Math.ceil(height / STRIPE_ROWS));
  let deflated = 0;
  let rows = 0;
  for (let i = 0; i < stripes; i++) {
    const from = Math.max(0, Math.floor((i * (height - STRIPE_ROWS)) / Math.max(1, stripes - 1)));
    const to = Math.min(height, from + STRIPE_ROWS);
    const above = from > 0 ? 1 : 0; // the row that the first one is compared with
    for (const raster of texturesIn(from - above, to)) {
      if (raster) deflated += await deflatedSize(filterRows(raster, above));
    }
    rows += to - from;
  }
  return Math.round((deflated / rows) * height);
}

async function deflatedSize(data: Uint8Array): Promise<number> {
  const stream = new Blob([new Uint8Array(data)]).stream().pipeThrough(new CompressionStream('deflate'));
  return (await new Response(stream).arrayBuffer()).byteLength;
}
