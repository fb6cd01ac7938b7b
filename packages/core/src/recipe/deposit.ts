import { doublesIn, floatsIn, kernels, type Address } from '../simd/simd.ts';

/**
 * Signed areas of polygons per texel, summed up along each row: what a row of texels is covered by. They lie in the memory
 * of the kernels, which add the edges of a polygon (`packages/core/wasm/paint.ts`), as font rasterisers do.
 */
export interface Areas {
  /** Row by row, `stride` numbers each: differences, whose running sum is the cover. */
  readonly sums: Float32Array;
  readonly stride: number;
  /** For every row the columns that were touched, the last one excluded. */
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** Corners of a polygon on their way to the kernels. */
  readonly staged: Float64Array;
  readonly at: { readonly sums: Address; readonly from: Address; readonly to: Address; readonly corners: Address };
}

/** Bytes that {@link areasAt} needs. */
export const areaSlots = (width: number, rows: number) => ({
  sums: 4 * (width + 2) * rows,
  from: 4 * rows,
  to: 4 * rows,
  corners: 16 * MOST_CORNERS,
});

/** Corners that one shape may have. */
export const MOST_CORNERS = 256;

/** @param slots - Zero, of {@link areaSlots}. */
export function areasAt(
  slots: Record<keyof ReturnType<typeof areaSlots>, { at: Address; bytes: number }>,
  width: number,
): Areas {
  const whole = ({ at, bytes }: { at: Address; bytes: number }) =>
    new Int32Array(kernels().memory.buffer, at, bytes >> 2);
  const { sums, from, to, corners } = slots;
  const stride = width + 2;
  return {
    sums: floatsIn(sums),
    stride,
    from: whole(from).fill(stride),
    to: whole(to),
    staged: doublesIn(corners),
    at: { sums: sums.at, from: from.at, to: to.at, corners: corners.at },
  };
}

/**
 * Adds the areas of a polygon, downward edges positive. Rows and columns outside are cut off.
 *
 * @param corners - x, y of all corners of all polygons.
 * @param first - Its first corner, and the one after its last.
 * @param top - Row of the picture at which the band begins.
 */
export function deposit(
  areas: Areas,
  corners: Float64Array,
  first: number,
  end: number,
  top: number,
  rows: number,
): void {
  const { staged, stride, at } = areas;
  if (end - first > MOST_CORNERS) throw new RangeError(`A shape of ${end - first} corners.`);
  for (let k = 2 * first, o = 0; k < 2 * end; k++, o++) staged[o] = corners[k];
  kernels().depositCorners(at.corners, end - first, top, at.sums, stride, at.from, at.to, rows);
}
