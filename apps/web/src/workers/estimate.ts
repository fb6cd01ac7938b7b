import {
  bytesOfDds,
  filterRows,
  glbNormals,
  PIECE_DEFAULTS,
  profileOf,
  rasterFor,
  surfaceRaster,
  type ProfileId,
  type Raster,
  type RunResult,
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
    const within = plan.extension === 'glb' ? [glbNormals(run), surfaceRaster(run)] : [];
    let size = 0; // of what is left out
    for (const raster of [rasterFor(plan, run, ANY_CUTOFF), ...within]) if (raster) size += await sizeOf(raster);
    sizes.push(size);
  }
  return sizes;
}

async function sizeOf(raster: Raster<Samples>): Promise<number> {
  const stripes = Math.min(24, Math.ceil(raster.height / 16));
  let deflated = 0;
  let rows = 0;
  for (let i = 0; i < stripes; i++) {
    const from = Math.floor((i * (raster.height - 16)) / Math.max(1, stripes - 1)) || 0;
    const to = Math.min(raster.height, Math.max(0, from) + 16);
    deflated += await deflatedSize(filterRows(raster, Math.max(0, from), to));
    rows += to - Math.max(0, from);
  }
  return Math.round((deflated / rows) * raster.height);
}

/** Distances take about as many bytes whatever outline they are to. */
const ANY_CUTOFF = PIECE_DEFAULTS;

async function deflatedSize(data: Uint8Array): Promise<number> {
  const stream = new Blob([new Uint8Array(data)]).stream().pipeThrough(new CompressionStream('deflate'));
  return (await new Response(stream).arrayBuffer()).byteLength;
}
