import {
  bytesOfDds,
  filterRows,
  GLB_SLOTS,
  PIECE_DEFAULTS,
  profileOf,
  rasterFor,
  type FilePlan,
  type ProfileId,
  type Raster,
  type RunResult,
  type RunState,
  type Samples,
} from '@lithe-sieve/core';

/** About how many bytes each file of a profile will have: rows from all over the picture are filtered and deflated. */
export async function estimateSizes(run: RunResult, profile: ProfileId): Promise<number[]> {
  const sizes: number[] = [];
  for (const plan of profileOf(profile).files) {
    if (plan.texels) {
      sizes.push(bytesOfDds(plan.texels, run.colour.width, run.colour.height));
      continue;
    }
    // distances are smaller than the run's rasters; of all else a few rows are made, never the whole file
    const whole = plan.divisor ? rasterFor(plan, run, ANY_CUTOFF) : null;
    sizes.push(
      whole
        ? await sizeOf(whole.height, (from, to) => [rowsOf(whole, from, to)])
        : await sizeOf(run.colour.height, (from, to) => texturesOf(plan, rowsOfRun(run, from, to))),
    );
  }
  return sizes;
}

/** What lies in a file; null is left out. */
function texturesOf(plan: FilePlan, state: RunState): (Raster<Samples> | null)[] {
  const within = plan.extension === 'glb' ? GLB_SLOTS.map((slot) => slot.raster(state)) : [];
  return [rasterFor(plan, state, ANY_CUTOFF), ...within];
}

function rowsOf<R extends Raster<Samples>>(raster: R, from: number, to: number): R {
  const line = raster.channels * raster.width;
  return { ...raster, height: to - from, data: raster.data.subarray(line * from, line * to) };
}

function rowsOfRun({ colour, mask, maps }: RunState, from: number, to: number): RunState {
  return {
    colour: rowsOf(colour, from, to),
    mask: rowsOf(mask, from, to),
    maps: new Map([...maps].map(([name, raster]) => [name, rowsOf(raster, from, to)])),
  };
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

/** Distances take about as many bytes whatever outline they are to. */
const ANY_CUTOFF = PIECE_DEFAULTS;

async function deflatedSize(data: Uint8Array): Promise<number> {
  const stream = new Blob([new Uint8Array(data)]).stream().pipeThrough(new CompressionStream('deflate'));
  return (await new Response(stream).arrayBuffer()).byteLength;
}
