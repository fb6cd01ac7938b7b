import { SieveError } from '../errors.ts';
import type { Box } from '../raster/box.ts';
import { applyTable, REVERSED } from '../raster/apply-table.ts';
import { makeMask, type Mask, type Picture } from '../raster/raster.ts';
import { connectedTo, likeTouched } from '../mask/touched.ts';
import type { RunState } from '../raster/run-state.ts';
import type { Work } from '../raster/work.ts';
import { Coverage } from './coverage.ts';
import { fillOutline } from './outline.ts';
import { mirrored, BrushTrace } from './trace.ts';
import { POINT_UNIT, type OutlineStroke, type RegionStroke, type Stroke } from './stroke.ts';
import { tipPicture, type TipPicture } from './tips.ts';

/** What drawing strokes asks of its host. */
export interface StrokeEnv extends Work {
  /** The picture of a brush's tip, by the SHA-256 of its file. Throws {@link SieveError} `missing-source`. */
  tip(sha256: string): Picture;
}

/**
 * Covers what a stroke covers.
 *
 * @param state - The picture, and the mask as it is before the stroke: a region is looked for in one of them.
 * @throws {@link SieveError} `missing-source` where the tip's picture is not there.
 */
export function drawStroke(stroke: Stroke, cover: Coverage, state: () => RunState, env: StrokeEnv): void {
  switch (stroke.kind) {
    case 'brush': {
      const tip = stroke.brush.tip === 'piece' ? tipOf(stroke.brush.picture, env) : null;
      new BrushTrace(stroke, env.scale, cover, tip).extend(stroke.path);
      break;
    }
    case 'outline':
      drawOutline(stroke, cover, env.scale);
      break;
    case 'region':
      drawRegion(stroke, cover, state(), env);
  }
  cover.finish();
}

const tips = new WeakMap<Picture, TipPicture>();

/** The red of a picture: what a copied mask is drawn in. */
export function tipOf(sha256: string, env: Pick<StrokeEnv, 'tip'>): TipPicture {
  const picture = env.tip(sha256);
  let tip = tips.get(picture);
  if (!tip) {
    const data = new Uint8Array(picture.width * picture.height);
    for (let i = 0; i < data.length; i++) data[i] = picture.data[4 * i];
    tips.set(picture, (tip = tipPicture(makeMask(picture.width, picture.height, data))));
  }
  return tip;
}

function drawOutline({ path, mirror }: OutlineStroke, cover: Coverage, scale: number): void {
  const points = Float64Array.from(path, (v) => (v / POINT_UNIT) * scale);
  fillOutline(cover, points);
  if (!mirror) return;
  const other = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 2) {
    const p = mirrored({ x: points[i] / scale, y: points[i + 1] / scale }, mirror);
    other.set([p.x * scale, p.y * scale], i);
  }
  fillOutline(cover, other);
}

/** As {@link fromTouch} takes it, but drawn over the mask. */
const SOFTNESS = 0.04;

function drawRegion(
  { of, at, tolerance, gaps, mirror }: RegionStroke,
  cover: Coverage,
  state: RunState,
  env: StrokeEnv,
) {
  const { width, height } = state.mask;
  const places = [at];
  if (mirror) {
    const other = mirrored({ x: at[0] + 0.5, y: at[1] + 0.5 }, mirror);
    places.push([Math.floor(other.x), Math.floor(other.y)]);
  }
  for (const [x, y] of places) {
    const inside = x >= 0 && y >= 0 && x * env.scale < width && y * env.scale < height;
    if (!inside) continue;
    const alike =
      of === 'picture'
        ? likeTouched(state.colour, [[x, y]], tolerance, SOFTNESS, env)
        : sideOfMask(state.mask, x, y, env);
    const dropped = of === 'mask' && alike !== state.mask;
    // kept texels are connected by corners, dropped ones by sides, so that one always ends the other
    const region = connectedTo(alike, [[x, y]], gaps * env.scale, env, dropped ? 4 : 8);
    for (let v = 0; v < height; v++) mergeMaskRow(cover, region, v);
  }
}

/** What is kept, or what is dropped, as the touched texel is. */
function sideOfMask(mask: Mask, x: number, y: number, env: StrokeEnv): Mask {
  const i = Math.floor(y * env.scale) * mask.width + Math.floor(x * env.scale);
  return mask.data[i] >= 128 ? mask : applyTable(mask, REVERSED, env);
}

let row = new Uint16Array(1024);

function mergeMaskRow(cover: Coverage, { width, data }: Mask, y: number): void {
  const base = y * width;
  let from = 0;
  while (from < width && data[base + from] === 0) from++;
  if (from === width) return;
  let to = width;
  while (data[base + to - 1] === 0) to--;
  if (row.length < to - from) row = new Uint16Array(2 * (to - from));
  for (let x = from; x < to; x++) row[x - from] = data[base + x] * 257;
  cover.mergeRow(y, from, to, row);
}

/** The box that a stroke stays in, in texels of the full size with their fractions; null: anywhere. */
export function boxOfStroke(stroke: Stroke): Box | null {
  if (stroke.kind === 'region') return null;
  const step = stroke.kind === 'brush' ? 3 : 2;
  const reach = stroke.kind === 'brush' ? stroke.brush.diameter * 0.75 + 2 : 1;
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  const take = ({ x, y }: { x: number; y: number }) => {
    box.x0 = Math.min(box.x0, x - reach);
    box.y0 = Math.min(box.y0, y - reach);
    box.x1 = Math.max(box.x1, x + reach);
    box.y1 = Math.max(box.y1, y + reach);
  };
  for (let i = 0; i + 1 < stroke.path.length; i += step) {
    const p = { x: stroke.path[i] / POINT_UNIT, y: stroke.path[i + 1] / POINT_UNIT };
    take(p);
    if (stroke.mirror) take(mirrored(p, stroke.mirror));
  }
  return box;
}

/** @throws {@link SieveError} `missing-strokes` where the host does not hold all of them. */
export function strokesOf(ids: readonly string[], held: ReadonlyMap<string, Stroke>): Stroke[] {
  return ids.map((id) => {
    const stroke = held.get(id);
    if (stroke) return stroke;
    throw new SieveError('missing-strokes', 'Strokes of this step are not here yet.', 'Reload the page.');
  });
}
