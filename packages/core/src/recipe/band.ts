import { byteOfLinear16Table, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import type { Areas } from './deposit.ts';
import { doublesIn, floatsIn, kernels, type Slot } from '../simd/simd.ts';
import { ACROSS, STEPS, type Profile } from './profile.ts';
import type { Surface } from './scene.ts';
import { levelFor, readRelief, type Stamp } from './stamp.ts';

// The loops stand beside the numbers that they index by: a constant of another file is read again at each texel.

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
export const ROWS = 16;
/** The same of a draft, which is small: shapes come into fewer bands. Where rows begin is rounded otherwise there. */
export const DRAFT_ROWS = 48;
/** Less of a texel than this is not seen. */
const LEAST = 1 / 1024;

/**
 * What has come into each texel of a band, from the front to the back: so many numbers a texel, side by side, since a
 * thin line touches few texels of every row and all numbers of each.
 */
export interface Band {
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

/** Bytes that its numbers take. */
export const bandBytes = (width: number, rows: number, withMaps: boolean): number =>
  4 * width * rows * (withMaps ? EACH_WITH_MAPS : EACH);

/** @param cells - In the memory of the kernels, of {@link bandBytes}. */
export function bandIn(cells: Slot, width: number, withMaps: boolean): Band {
  return { width, each: withMaps ? EACH_WITH_MAPS : EACH, cells: floatsIn(cells) };
}

export function clear({ cells, each }: Band, texels: number): void {
  cells.fill(0, 0, texels * each);
  for (let i = 0; i < texels * each; i += each) cells[i + FREE] = 1;
}

/** Whether no more can be seen through any texel. */
export function closed({ cells, each }: Band, texels: number): boolean {
  for (let i = FREE; i < texels * each; i += each) if (cells[i] >= LEAST) return false;
  return true;
}

/** Where a surface is read from by the kernels; what is there already is not copied again. */
export interface SurfaceSlots {
  readonly along: Slot;
  readonly profile: Slot;
  readonly frame: Slot;
}

export const SURFACE_SLOTS = { along: 12 * (STEPS + 1), profile: 16 * (ACROSS + 1), frame: 96 } as const;

/** Lays plain surfaces into a band: kernels do, see `packages/core/wasm/paint.ts`. */
export class PlainShader {
  private along: Float32Array | null = null;
  private profile: Profile | null = null;
  private readonly frame: Float64Array;

  constructor(private readonly slots: SurfaceSlots) {
    this.frame = doublesIn(slots.frame);
  }

  /** Takes the areas up, and lays what is seen of the surface into the band. */
  shade(
    { width, cells, each }: Band,
    { stride, at: areas }: Areas,
    rows: number,
    top: number,
    own: number,
    frames: Float64Array,
    at: number,
    surface: Surface,
    withMaps: boolean,
  ): void {
    const { slots, frame } = this;
    if (surface.along !== this.along) floatsIn(slots.along).set((this.along = surface.along));
    if (surface.profile !== this.profile) this.take(surface.profile);
    for (let k = 0; k < 12; k++) frame[k] = frames[at + k];
    kernels().shadeBand(
      areas.sums,
      stride,
      areas.from,
      areas.to,
      rows,
      top,
      width,
      cells.byteOffset,
      each,
      own,
      slots.frame.at,
      slots.along.at,
      slots.profile.at,
      surface.translucency,
      surface.relief,
      surface.id,
      withMaps ? 1 : 0,
    );
  }

  private take(profile: Profile): void {
    this.profile = profile;
    const { light, tilt, up, rise } = profile;
    for (const [k, part] of [light, tilt, up, rise].entries()) floatsIn(this.slots.profile).set(part, k * (ACROSS + 1));
  }
}

/** Linear light of a byte, times alpha as a byte: read for four texels of a picture at each one that is painted. */
const LINEAR = Float32Array.from(LINEAR_OF_BYTE);
const deep = new Float32Array(4);

/** The same of a surface with a picture along it, which says too how much of it there is. */
export function shadeStamp(
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
  const toAcross = ACROSS / 2;
  const picture = levelFor(stamp, Math.max(lengthwise, crosswise));
  const [ownNormal, ownHeight, ownThrough] = (['normal', 'height', 'translucency'] as const).map(
    (map) => picture.relief !== undefined && stamp.maps.includes(map),
  );
  const way = Math.sqrt(ux * ux + uy * uy) || 1;
  const [wayX, wayY] = [ux / way, uy / way];
  const { data, width: wide, height: tall } = picture;
  const { tilt, up, rise } = profile;
  for (let row = 0; row < rows; row++) {
    let cover = 0;
    const py = row + top + 0.5 - cy;
    const line = row * stride;
    const end = to[row];
    for (let x = from[row]; x < end; x++) {
      cover += sums[line + x];
      sums[line + x] = 0;
      const area = cover < 0 ? -cover : cover;
      if (area < LEAST || x >= width) continue;
      const px = x + 0.5 - cx;
      let u = px * ux + py * uy;
      u = u < 0 ? 0 : u > 1 ? 1 : u;
      const half = h0 + (h1 - h0) * u;
      let t = half > 0 ? (px * nx + py * ny) / half : 0;
      t = t < -1 ? -1 : t > 1 ? 1 : t;
      const place = p0 + (p1 - p0) * u;
      // between four texels of the picture, their colours weighted by their alpha
      let sx = ((t + 1) / 2) * wide - 0.5;
      sx = sx < 0 ? 0 : sx > wide - 1 ? wide - 1 : sx;
      let sy = (1 - place) * tall - 0.5;
      sy = sy < 0 ? 0 : sy > tall - 1 ? tall - 1 : sy;
      const left = sx | 0;
      const above = sy | 0;
      const q = 4 * (above * wide + left);
      const r = left + 1 < wide ? q + 4 : q;
      const down = above + 1 < tall ? 4 * wide : 0;
      const aq = data[q + 3];
      const ar = data[r + 3];
      const bq = data[q + down + 3];
      const br = data[r + down + 3];
      if ((aq | ar | bq | br) === 0) continue;
      const i = (row * width + x) * each;
      if (cells[i + FREE] < LEAST) continue;
      const fx = sx - left;
      const fy = sy - above;
      const a = aq * (1 - fx) * (1 - fy);
      const b = ar * fx * (1 - fy);
      const c = bq * (1 - fx) * fy;
      const d = br * fx * fy;
      const alpha = Math.fround((a + b + c + d) / 255);
      if (alpha < LEAST) continue;
      if (cells[i + OWNER] !== own) {
        cells[i + OWNER] = own;
        cells[i + START] = cells[i + FREE];
      }
      const seen = cells[i + FREE] / alpha;
      const wanted = cells[i + START] * area;
      const share = seen < wanted ? seen : wanted;
      const w = share * alpha;
      cells[i + FREE] -= w;
      const across = ((t + 1) * toAcross + 0.5) | 0;
      const tint = 3 * ((place * STEPS + 0.5) | 0);
      cells[i + SEEN] += w;
      for (let k = 0; k < 3; k++) {
        const light = LINEAR[data[q + k]] * a + LINEAR[data[r + k]] * b + LINEAR[data[q + down + k]] * c + LINEAR[data[r + down + k]] * d; // prettier-ignore
        cells[i + RED + k] += along[tint + k] * Math.fround(light / 255) * share;
      }
      if (!withMaps) continue;
      if (picture.relief) readRelief(picture, (t + 1) / 2, place, deep);
      if (ownNormal) {
        // turned with the part: its right is (nx, ny), its way up (ux, uy) by its length
        const toRight = (2 * deep[0] - 1) * w;
        const toTip = (2 * deep[1] - 1) * w;
        cells[i + RIGHT] += toRight * nx + toTip * wayX;
        cells[i + UP] -= toRight * ny + toTip * wayY;
        cells[i + OUT] += Math.sqrt(Math.max(0, w * w - toRight * toRight - toTip * toTip));
      } else {
        const lean = tilt[across] * w;
        cells[i + RIGHT] += lean * nx;
        cells[i + UP] -= lean * ny;
        cells[i + OUT] += up[across] * w;
      }
      cells[i + LIFT] += (l0 + (l1 - l0) * u + relief * (ownHeight ? deep[2] : rise[across])) * w;
      cells[i + THROUGH] += (ownThrough ? deep[3] : translucency) * w;
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
export function cut({ width, cells, each }: Band, { sums, stride, from, to }: Areas, rows: number, own: number): void {
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
export function resolve(
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

/** Averages of finer × finer cells of a band: all they hold is weighted by what is seen, the id is that of the most seen. */
export function meansOf(from: Band, finer: number, to: Band, rows: number): void {
  const { each } = from;
  const [fine, means] = [from.cells, to.cells];
  const share = 1 / (finer * finer);
  for (let y = 0, o = 0; y < rows; y++) {
    for (let x = 0; x < to.width; x++, o += each) {
      means.fill(0, o, o + each);
      let most = 0;
      let id = 0;
      for (let v = 0; v < finer; v++) {
        for (let u = 0, i = each * ((y * finer + v) * from.width + x * finer); u < finer; u++, i += each) {
          for (let k = 0; k < each; k++) means[o + k] += share * fine[i + k];
          if (each <= ID || fine[i + SEEN] <= most) continue;
          most = fine[i + SEEN];
          id = fine[i + ID];
        }
      }
      if (each > ID) means[o + ID] = id;
    }
  }
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
