import { byteOfLinear16Table } from '../colour/srgb.ts';
import type { Work } from '../raster/work.ts';
import { depositEdge, makeAreas, type Areas } from './deposit.ts';
import { ACROSS, STEPS } from './profile.ts';
import { FRAME, type Scene, type Surface } from './scene.ts';

/** Planes of a picture that is being grown; the maps are left out where nobody asks for them. */
export interface Grown {
  width: number;
  height: number;
  rgba: Uint8Array;
  maps: {
    height: Uint16Array;
    normal: Uint16Array;
    translucency: Uint8Array;
    tintId: Uint8Array;
    rootTip: Uint8Array;
  } | null;
}

/** Rows that are painted together: their planes stay in the caches of the processor. */
const ROWS = 32;
/** Less of a texel than this is not seen. */
const LEAST = 1 / 1024;

/** What has come into each texel of a band, from the front to the back. */
interface Band {
  readonly width: number;
  /** What is still to be seen through. */
  readonly free: Float32Array;
  /** The same when the owner that was painted last began; shares of one owner are added, not laid over each other. */
  readonly start: Float32Array;
  readonly owner: Int32Array;
  /** Sums of linear light, weighted by what is seen; `seen` is the weight. */
  readonly seen: Float32Array;
  readonly red: Float32Array;
  readonly green: Float32Array;
  readonly blue: Float32Array;
  readonly lift: Float32Array;
  readonly right: Float32Array;
  readonly up: Float32Array;
  readonly out: Float32Array;
  readonly through: Float32Array;
  readonly place: Float32Array;
  /** The largest share of one owner, and its id. */
  readonly most: Float32Array;
  readonly id: Uint8Array;
}

function makeBand(width: number): Band {
  const plane = () => new Float32Array(width * ROWS);
  return {
    width,
    free: plane(),
    start: plane(),
    owner: new Int32Array(width * ROWS),
    seen: plane(),
    red: plane(),
    green: plane(),
    blue: plane(),
    lift: plane(),
    right: plane(),
    up: plane(),
    out: plane(),
    through: plane(),
    place: plane(),
    most: plane(),
    id: new Uint8Array(width * ROWS),
  };
}

/**
 * Paints a scene: every shape by the exact area that it covers of each texel, from the front to the back, colours mixed
 * as light. Colour is straight; under alpha 0 it is `ground`.
 *
 * @param grown - Takes the result; the widths of the scene are widths of this.
 * @param ground - Linear R, G, B, 0–1.
 */
export function paintScene(scene: Scene, grown: Grown, ground: readonly number[], env: Pick<Work, 'bands'>): void {
  const { width, height } = grown;
  const shapes = shapesOf(scene, width, height);
  const band = makeBand(width);
  const areas = makeAreas(width, ROWS);
  const withMaps = grown.maps !== null;
  env.bands(height, (y0, y1) => {
    for (let top = y0; top < y1;) {
      const at = Math.floor(top / ROWS);
      // bands of the host may begin anywhere, ours are the same at every size of them
      const rows = Math.min((at + 1) * ROWS, y1) - top;
      clear(band, rows * width, withMaps);
      for (let k = shapes.bandStarts[at]; k < shapes.bandStarts[at + 1]; k++) {
        const shape = shapes.inBand[k];
        if (!depositShape(areas, shapes, shape, top, rows)) continue;
        const own = shapes.own[shape];
        const surface = shapes.surfaces[shapes.surfaceOf[shape]];
        if (surface) shade(band, areas, rows, top, own, shapes.frames, shape * FRAME, surface, withMaps);
        else cut(band, areas, rows, own);
      }
      resolve(band, grown, ground, top, rows);
      top += rows;
    }
  });
}

/** Shapes in texels, and which of them lie in each band of {@link ROWS} rows, from the front to the back. */
interface Shapes {
  readonly corners: Float64Array;
  readonly starts: Int32Array;
  readonly frames: Float64Array;
  /** Of every shape the first and the last row it touches, with fractions. */
  readonly tops: Float64Array;
  readonly bottoms: Float64Array;
  /** Of every shape whose share it is: the same for all that are added up. Not 0. */
  readonly own: Int32Array;
  readonly surfaceOf: Int32Array;
  readonly surfaces: readonly (Surface | null)[];
  readonly inBand: Int32Array;
  readonly bandStarts: Int32Array;
}

function shapesOf(scene: Scene, scale: number, height: number): Shapes {
  const { owners } = scene;
  const count = scene.starts.length;
  const corners = Float64Array.from(scene.corners);
  for (let i = 0; i < corners.length; i++) corners[i] *= scale;
  const starts = new Int32Array(count + 1);
  for (let i = 0; i < count; i++) starts[i] = scene.starts[i];
  starts[count] = corners.length / 2;
  const tops = new Float64Array(count).fill(Infinity);
  const bottoms = new Float64Array(count).fill(-Infinity);
  for (let i = 0; i < count; i++) {
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const y = corners[2 * k + 1];
      if (y < tops[i]) tops[i] = y;
      if (y > bottoms[i]) bottoms[i] = y;
    }
  }
  const order = Int32Array.from(owners, (_, index) => index);
  order.sort((a, b) => owners[b].z - owners[a].z || b - a);
  const own = new Int32Array(count);
  const surfaceOf = new Int32Array(count);
  const surfaces = owners.map((o) => o.surface);
  const bands = Math.ceil(height / ROWS);
  const first = (i: number) => Math.max(0, Math.floor(tops[i] / ROWS));
  const last = (i: number) => Math.min(bands - 1, Math.floor(bottoms[i] / ROWS));
  const bandStarts = new Int32Array(bands + 2);
  for (let index = 0; index < owners.length; index++) {
    const { first: from, end, group } = owners[index];
    for (let i = from; i < end; i++) {
      own[i] = group < 0 ? index + 1 : -1 - group; // groups count down from −1, single ones up from 1
      surfaceOf[i] = index;
      for (let b = first(i); b <= last(i); b++) bandStarts[b + 2]++;
    }
  }
  for (let b = 0; b < bands; b++) bandStarts[b + 2] += bandStarts[b + 1];
  const inBand = new Int32Array(bandStarts[bands + 1]);
  for (let k = 0; k < order.length; k++) {
    const { first: from, end } = owners[order[k]];
    for (let i = from; i < end; i++) for (let b = first(i); b <= last(i); b++) inBand[bandStarts[b + 1]++] = i;
  }
  return {
    corners,
    starts,
    frames: framesOf(scene, scale),
    tops,
    bottoms,
    own,
    surfaceOf,
    surfaces,
    inBand,
    bandStarts,
  };
}

/** Frames in texels. */
function framesOf({ numbers }: Scene, scale: number): Float64Array {
  const out = Float64Array.from(numbers);
  for (let i = 0; i < out.length; i += FRAME) {
    out[i] *= scale;
    out[i + 1] *= scale;
    out[i + 2] /= scale;
    out[i + 3] /= scale;
    out[i + 6] *= scale;
    out[i + 7] *= scale;
  }
  return out;
}

function clear(band: Band, texels: number, withMaps: boolean): void {
  band.free.fill(1, 0, texels);
  band.owner.fill(0, 0, texels);
  for (const plane of [band.seen, band.red, band.green, band.blue]) plane.fill(0, 0, texels);
  if (!withMaps) return;
  for (const plane of [band.lift, band.right, band.up, band.out, band.through, band.place, band.most])
    plane.fill(0, 0, texels);
  band.id.fill(0, 0, texels);
}

/** @returns whether any of it lies in the rows. */
function depositShape(areas: Areas, shapes: Shapes, shape: number, top: number, rows: number): boolean {
  const { corners, starts, tops, bottoms } = shapes;
  if (bottoms[shape] <= top || tops[shape] >= top + rows) return false;
  const first = starts[shape];
  const end = starts[shape + 1];
  for (let i = first; i < end; i++) {
    const k = i + 1 < end ? i + 1 : first;
    depositEdge(areas, rows, corners[2 * i], corners[2 * i + 1] - top, corners[2 * k], corners[2 * k + 1] - top);
  }
  return true;
}

/** Takes the areas up, and lays what is seen of the surface into the band. */
function shade(
  band: Band,
  areas: Areas,
  rows: number,
  top: number,
  own: number,
  frames: Float64Array,
  at: number,
  surface: Surface,
  withMaps: boolean,
): void {
  const { sums, stride, from, to } = areas;
  const { width, free, start, owner, seen, red, green, blue } = band;
  const { along, translucency, relief, id } = surface;
  const { light, tilt, up, rise } = surface.profile;
  const [cx, cy, ux, uy, nx, ny] = [
    frames[at],
    frames[at + 1],
    frames[at + 2],
    frames[at + 3],
    frames[at + 4],
    frames[at + 5],
  ];
  const h0 = frames[at + 6];
  const dh = frames[at + 7] - h0;
  const s0 = frames[at + 8] * STEPS;
  const ds = frames[at + 9] * STEPS - s0;
  const l0 = frames[at + 10];
  const dl = frames[at + 11] - l0;
  for (let row = 0; row < rows; row++) {
    const end = to[row] < width ? to[row] : width;
    let cover = 0;
    const line = row * stride;
    const out = row * width;
    const py = row + top + 0.5 - cy;
    let x = from[row];
    for (; x < end; x++) {
      cover += sums[line + x];
      sums[line + x] = 0;
      const area = cover < 0 ? -cover : cover;
      if (area < LEAST) continue;
      const i = out + x;
      const f = free[i];
      if (f < LEAST) continue;
      if (owner[i] !== own) {
        owner[i] = own;
        start[i] = f;
      }
      let w = start[i] * area;
      if (w > f) w = f;
      free[i] = f - w;
      const px = x + 0.5 - cx;
      let u = px * ux + py * uy;
      if (u < 0) u = 0;
      else if (u > 1) u = 1;
      const half = h0 + dh * u;
      let t = half > 0 ? (px * nx + py * ny) / half : 0;
      if (t < -1) t = -1;
      else if (t > 1) t = 1;
      const across = ((t + 1) * (ACROSS / 2) + 0.5) | 0;
      const place = 3 * ((s0 + ds * u + 0.5) | 0);
      const lit = light[across] * w;
      seen[i] += w;
      red[i] += along[place] * lit;
      green[i] += along[place + 1] * lit;
      blue[i] += along[place + 2] * lit;
      if (!withMaps) continue;
      const lean = tilt[across] * w;
      band.lift[i] += (l0 + dl * u + relief * rise[across]) * w;
      band.right[i] += lean * nx;
      band.up[i] -= lean * ny;
      band.out[i] += up[across] * w;
      band.through[i] += translucency * w;
      band.place[i] += (s0 + ds * u) * w;
      if (w > band.most[i]) {
        band.most[i] = w;
        band.id[i] = id;
      }
    }
    for (; x < to[row]; x++) sums[line + x] = 0;
    from[row] = stride;
    to[row] = 0;
  }
}

/** A hole: what lies behind is not seen, and nothing is in its place. */
function cut({ width, free, start, owner }: Band, { sums, stride, from, to }: Areas, rows: number, own: number): void {
  for (let row = 0; row < rows; row++) {
    let cover = 0;
    for (let x = from[row]; x < to[row]; x++) {
      cover += sums[row * stride + x];
      sums[row * stride + x] = 0;
      if (x >= width) continue;
      const i = row * width + x;
      if (owner[i] !== own) {
        owner[i] = own;
        start[i] = free[i];
      }
      const left = free[i] - start[i] * (cover < 0 ? -cover : cover);
      free[i] = left > 0 ? left : 0;
    }
    from[row] = stride;
    to[row] = 0;
  }
}

/** The band as samples. */
function resolve(band: Band, grown: Grown, ground: readonly number[], top: number, rows: number): void {
  const { width, seen, red, green, blue } = band;
  const { rgba, maps } = grown;
  const byte = byteOfLinear16Table();
  const words = new Uint32Array(rgba.buffer, rgba.byteOffset + 4 * top * width, rows * width);
  const [r, g, b] = ground.map((v) => byte[codeOf(v)]);
  const nothing = (b << 16) | (g << 8) | r;
  for (let i = 0; i < rows * width; i++) {
    const w = seen[i];
    const alpha = w >= 1 ? 255 : (w * 255 + 0.5) | 0;
    if (alpha === 0) words[i] = nothing;
    else {
      const scale = 65535 / w;
      const colour = (byte[code16(blue[i] * scale)] << 16) | (byte[code16(green[i] * scale)] << 8);
      words[i] = (alpha << 24) | colour | byte[code16(red[i] * scale)];
    }
  }
  if (maps) resolveMaps(band, maps, top, rows);
}

function resolveMaps(band: Band, maps: NonNullable<Grown['maps']>, top: number, rows: number): void {
  const { width, seen, lift, right, up, out, through, place, id } = band;
  const { height, normal, translucency, tintId, rootTip } = maps;
  for (let i = 0, o = top * width; i < rows * width; i++, o++) {
    const w = seen[i];
    if (w < LEAST) {
      height[o] = 0;
      normal[3 * o] = 32768;
      normal[3 * o + 1] = 32768;
      normal[3 * o + 2] = 65535;
      translucency[o] = 0;
      tintId[o] = 0;
      rootTip[o] = 0;
      continue;
    }
    height[o] = code16((lift[i] / w) * 65535);
    const [x, y, z] = [right[i], up[i], out[i]];
    const scale = 32767.5 / Math.sqrt(x * x + y * y + z * z);
    normal[3 * o] = (x * scale + 32768) | 0;
    normal[3 * o + 1] = (y * scale + 32768) | 0;
    normal[3 * o + 2] = (z * scale + 32768) | 0;
    translucency[o] = ((through[i] / w) * 255 + 0.5) | 0;
    tintId[o] = id[i];
    rootTip[o] = ((place[i] / w) * (255 / STEPS) + 0.5) | 0;
  }
}

function code16(v: number): number {
  return v >= 65535 ? 65535 : v <= 0 ? 0 : (v + 0.5) | 0;
}

const codeOf = (linear: number) => code16(linear * 65535);
