import { byteOfLinear16Table } from '../colour/srgb.ts';
import type { Work } from '../raster/work.ts';
import { depositEdge, makeAreas, type Areas } from './deposit.ts';
import { ACROSS, STEPS } from './profile.ts';
import { levelFor, readStamp, type Stamp } from './stamp.ts';
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
const ROWS = 16;
/** Less of a texel than this is not seen. */
const LEAST = 1 / 1024;

/**
 * What has come into each texel of a band, from the front to the back: so many numbers a texel, side by side, since a
 * thin line touches few texels of every row and all numbers of each.
 */
interface Band {
  readonly width: number;
  readonly cells: Float32Array;
  /** Numbers a texel: with maps or without. */
  readonly each: number;
}

/** What is still to be seen through. */
const FREE = 0;
/** The same when the owner that was painted last began; shares of one owner are added, not laid over each other. */
const START = 1;
const OWNER = 2;
/** How much has been seen; sums of linear light follow, weighted by it. */
const SEEN = 3;
const RED = 4;
const GREEN = 5;
const BLUE = 6;
const EACH = 8;
/** Sums of the maps. */
const LIFT = 7;
const RIGHT = 8;
const UP = 9;
const OUT = 10;
const THROUGH = 11;
const PLACE = 12;
/** The largest share of one owner, and its id. */
const MOST = 13;
const ID = 14;
const EACH_WITH_MAPS = 16;

function makeBand(width: number, withMaps: boolean): Band {
  const each = withMaps ? EACH_WITH_MAPS : EACH;
  return { width, each, cells: new Float32Array(width * ROWS * each) };
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
  const areas = makeAreas(width, ROWS);
  const withMaps = grown.maps !== null;
  const band = makeBand(width, withMaps);
  env.bands(height, (y0, y1) => {
    for (let top = y0; top < y1;) {
      const at = Math.floor(top / ROWS);
      // bands of the host may begin anywhere, ours are the same at every size of them
      const rows = Math.min((at + 1) * ROWS, y1) - top;
      clear(band, rows * width);
      for (let k = shapes.bandStarts[at]; k < shapes.bandStarts[at + 1]; k++) {
        const shape = shapes.inBand[k];
        if (!depositShape(areas, shapes, shape, top, rows)) continue;
        const own = shapes.own[shape];
        const surface = shapes.surfaces[shapes.surfaceOf[shape]];
        if (surface?.stamp)
          shadeStamp(band, areas, rows, top, own, shapes.frames, shape * FRAME, surface, surface.stamp, withMaps);
        else if (surface) shade(band, areas, rows, top, own, shapes.frames, shape * FRAME, surface, withMaps);
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

function clear({ cells, each }: Band, texels: number): void {
  cells.fill(0, 0, texels * each);
  for (let i = 0; i < texels * each; i += each) cells[i + FREE] = 1;
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
  const { width, cells, each } = band;
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
      const i = (out + x) * each;
      const f = cells[i + FREE];
      if (f < LEAST) continue;
      if (cells[i + OWNER] !== own) {
        cells[i + OWNER] = own;
        cells[i + START] = f;
      }
      let w = cells[i + START] * area;
      if (w > f) w = f;
      cells[i + FREE] = f - w;
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
      cells[i + SEEN] += w;
      cells[i + RED] += along[place] * lit;
      cells[i + GREEN] += along[place + 1] * lit;
      cells[i + BLUE] += along[place + 2] * lit;
      if (!withMaps) continue;
      const lean = tilt[across] * w;
      cells[i + LIFT] += (l0 + dl * u + relief * rise[across]) * w;
      cells[i + RIGHT] += lean * nx;
      cells[i + UP] -= lean * ny;
      cells[i + OUT] += up[across] * w;
      cells[i + THROUGH] += translucency * w;
      cells[i + PLACE] += (s0 + ds * u) * w;
      if (w > cells[i + MOST]) {
        cells[i + MOST] = w;
        cells[i + ID] = id;
      }
    }
    for (; x < to[row]; x++) sums[line + x] = 0;
    from[row] = stride;
    to[row] = 0;
  }
}

const read = new Float32Array(4);

/** The same of a surface with a picture along it, which says too how much of it there is. */
function shadeStamp(
  { width, cells, each }: Band,
  { sums, stride, from, to }: Areas,
  rows: number,
  top: number,
  own: number,
  frames: Float64Array,
  at: number,
  { along, translucency, relief, id, profile }: Surface,
  stamp: Stamp,
  withMaps: boolean,
): void {
  const [cx, cy, ux, uy, nx, ny] = frames.subarray(at, at + 6);
  const [h0, h1, p0, p1, l0, l1] = frames.subarray(at + 6, at + 12);
  const lengthwise = Math.sqrt(ux * ux + uy * uy) * (p1 - p0) * stamp.height;
  const crosswise = stamp.width / Math.max(1, h0 + h1);
  const picture = levelFor(stamp, Math.max(lengthwise, crosswise));
  for (let row = 0; row < rows; row++) {
    let cover = 0;
    const py = row + top + 0.5 - cy;
    for (let x = from[row]; x < to[row]; x++) {
      cover += sums[row * stride + x];
      sums[row * stride + x] = 0;
      const area = cover < 0 ? -cover : cover;
      const i = (row * width + x) * each;
      if (area < LEAST || x >= width || cells[i + FREE] < LEAST) continue;
      const px = x + 0.5 - cx;
      const u = Math.min(1, Math.max(0, px * ux + py * uy));
      const half = h0 + (h1 - h0) * u;
      const t = half > 0 ? Math.min(1, Math.max(-1, (px * nx + py * ny) / half)) : 0;
      const place = p0 + (p1 - p0) * u;
      readStamp(picture, (t + 1) / 2, place, read);
      if (read[3] < LEAST) continue;
      if (cells[i + OWNER] !== own) {
        cells[i + OWNER] = own;
        cells[i + START] = cells[i + FREE];
      }
      const share = Math.min(cells[i + FREE] / read[3], cells[i + START] * area);
      const w = share * read[3];
      cells[i + FREE] -= w;
      const across = ((t + 1) * (ACROSS / 2) + 0.5) | 0;
      const tint = 3 * ((place * STEPS + 0.5) | 0);
      cells[i + SEEN] += w;
      cells[i + RED] += along[tint] * read[0] * share;
      cells[i + GREEN] += along[tint + 1] * read[1] * share;
      cells[i + BLUE] += along[tint + 2] * read[2] * share;
      if (!withMaps) continue;
      const lean = profile.tilt[across] * w;
      cells[i + LIFT] += (l0 + (l1 - l0) * u + relief * profile.rise[across]) * w;
      cells[i + RIGHT] += lean * nx;
      cells[i + UP] -= lean * ny;
      cells[i + OUT] += profile.up[across] * w;
      cells[i + THROUGH] += translucency * w;
      cells[i + PLACE] += place * STEPS * w;
      if (w > cells[i + MOST]) {
        cells[i + MOST] = w;
        cells[i + ID] = id;
      }
    }
    from[row] = stride;
    to[row] = 0;
  }
}

/** A hole: what lies behind is not seen, and nothing is in its place. */
function cut({ width, cells, each }: Band, { sums, stride, from, to }: Areas, rows: number, own: number): void {
  for (let row = 0; row < rows; row++) {
    let cover = 0;
    for (let x = from[row]; x < to[row]; x++) {
      cover += sums[row * stride + x];
      sums[row * stride + x] = 0;
      if (x >= width) continue;
      const i = (row * width + x) * each;
      if (cells[i + OWNER] !== own) {
        cells[i + OWNER] = own;
        cells[i + START] = cells[i + FREE];
      }
      const left = cells[i + FREE] - cells[i + START] * (cover < 0 ? -cover : cover);
      cells[i + FREE] = left > 0 ? left : 0;
    }
    from[row] = stride;
    to[row] = 0;
  }
}

/** The band as samples. */
function resolve(
  { width, cells, each }: Band,
  grown: Grown,
  ground: readonly number[],
  top: number,
  rows: number,
): void {
  const { rgba, maps } = grown;
  const byte = byteOfLinear16Table();
  const words = new Uint32Array(rgba.buffer, rgba.byteOffset + 4 * top * width, rows * width);
  const [r, g, b] = ground.map((v) => byte[codeOf(v)]);
  resolveColour(cells, each, byte, (b << 16) | (g << 8) | r, words);
  if (maps) resolveMaps(cells, maps, top * width, rows * width);
}

function resolveColour(cells: Float32Array, each: number, byte: Uint8Array, nothing: number, words: Uint32Array): void {
  for (let o = 0, i = 0; o < words.length; o++, i += each) {
    const w = cells[i + SEEN];
    const alpha = w >= 1 ? 255 : (w * 255 + 0.5) | 0;
    if (alpha === 0) words[o] = nothing;
    else {
      const scale = 65535 / w;
      const blue = byte[code16(cells[i + BLUE] * scale)];
      const green = byte[code16(cells[i + GREEN] * scale)];
      words[o] = (alpha << 24) | (blue << 16) | (green << 8) | byte[code16(cells[i + RED] * scale)];
    }
  }
}

function resolveMaps(cells: Float32Array, maps: NonNullable<Grown['maps']>, start: number, texels: number): void {
  const { height, normal, translucency, tintId, rootTip } = maps;
  for (let o = start, i = 0; o < start + texels; o++, i += EACH_WITH_MAPS) {
    const w = cells[i + SEEN];
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
    const share = 1 / w;
    height[o] = code16(cells[i + LIFT] * share * 65535);
    const x = cells[i + RIGHT];
    const y = cells[i + UP];
    const z = cells[i + OUT];
    const scale = 32767.5 / Math.sqrt(x * x + y * y + z * z);
    normal[3 * o] = (x * scale + 32768) | 0;
    normal[3 * o + 1] = (y * scale + 32768) | 0;
    normal[3 * o + 2] = (z * scale + 32768) | 0;
    translucency[o] = (cells[i + THROUGH] * share * 255 + 0.5) | 0;
    tintId[o] = cells[i + ID];
    rootTip[o] = (cells[i + PLACE] * share * (255 / STEPS) + 0.5) | 0;
  }
}

function code16(v: number): number {
  return v >= 65535 ? 65535 : v <= 0 ? 0 : (v + 0.5) | 0;
}

const codeOf = (linear: number) => code16(linear * 65535);
