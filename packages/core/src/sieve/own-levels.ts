import { luminance8 } from '../colour/luminance.ts';
import { makeMask, makePicture, type Allocate, type Mask, type Picture } from '../raster/raster.ts';
import { resize } from '../raster/resize.ts';

/** A level that a source of the piece takes the place of. */
export interface ReplacedLevel {
  /** 1 and on. */
  level: number;
  sourceId: string;
}

/** Texels of a level that were painted over by hand, by their place in its rows. */
export interface PaintedLevel {
  level: number;
  /** Size of the level when it was painted on: at another size the places would be others, and nothing of it counts. */
  width: number;
  height: number;
  kept: number[];
  dropped: number[];
}

/** Painted texels of one level, at the most. */
export const MOST_PAINTED = 16_384;

export interface OwnLevels {
  replaced: readonly ReplacedLevel[];
  painted: readonly PaintedLevel[];
}

/** A source of the piece; null where it is not there. */
export type SourceOf = (id: string) => Picture | null;

/** The levels with those of them that sources replace, and on top what was painted. @param levels - Level 0 first, which stays. */
export function withOwnMasks(levels: readonly Mask[], { replaced, painted }: OwnLevels, sourceOf: SourceOf): Mask[] {
  return levels.map((mask, level) => {
    if (level === 0) return mask;
    const source = sourceFor(level, replaced, sourceOf);
    const base = source ? fitted(maskOf(source), mask) : mask;
    const paint = painted.find((p) => p.level === level && p.width === mask.width && p.height === mask.height);
    if (!paint) return base;
    const data = base.data.slice();
    for (const at of paint.kept) if (at < data.length) data[at] = 255;
    for (const at of paint.dropped) if (at < data.length) data[at] = 0;
    return makeMask(mask.width, mask.height, data);
  });
}

/** The colour of the levels likewise; a source without any colour is a mask, and leaves it as it is. */
export function withOwnColours(
  levels: readonly Picture[],
  { replaced }: Pick<OwnLevels, 'replaced'>,
  sourceOf: SourceOf,
  allocate: Allocate,
): Picture[] {
  return levels.map((colour, level) => {
    const source = level > 0 && sourceFor(level, replaced, sourceOf);
    if (!source || isGrey(source)) return colour;
    const { width, height, data } = resize(source, colour.width, colour.height, allocate);
    return makePicture(width, height, data);
  });
}

function sourceFor(level: number, replaced: readonly ReplacedLevel[], sourceOf: SourceOf): Picture | null {
  const entry = replaced.find((r) => r.level === level);
  return entry ? sourceOf(entry.sourceId) : null;
}

/** Its alpha, or where all of that is opaque its luminance (Rec. 709 weights on encoded values). */
function maskOf({ width, height, data }: Picture): Mask {
  const out = new Uint8Array(width * height);
  let opaque = true;
  for (let i = 0; i < out.length; i++) {
    out[i] = data[4 * i + 3];
    if (out[i] !== 255) opaque = false;
  }
  if (opaque) {
    for (let i = 0, c = 0; i < out.length; i++, c += 4) out[i] = luminance8(data[c], data[c + 1], data[c + 2]);
  }
  return makeMask(width, height, out);
}

function fitted(mask: Mask, { width, height }: Mask): Mask {
  return mask.width === width && mask.height === height ? mask : resize(mask, width, height);
}

function isGrey({ data }: Picture): boolean {
  for (let i = 0; i < data.length; i += 4) if (data[i] !== data[i + 1] || data[i] !== data[i + 2]) return false;
  return true;
}
