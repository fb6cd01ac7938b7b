import { expect, type Page } from '@playwright/test';
import {
  findRegions,
  makeStep,
  toRgba8,
  type Mask,
  type PieceDoc,
  type Raster,
  type RunSource,
} from '@lithe-sieve/core/testing';
import { drawLeafScan } from '@lithe-sieve/demo';
import { openNew, seenAt, settled } from './helpers.ts';

// A scan of a leaf whose stalk is broken, to be repaired by hand.

export const SIDE = 256;
export const scan = drawLeafScan(31, SIDE);
/** The stalk is broken: a band of it shows the card. */
export const BREAK = { y0: 222, y1: 229 };
export const broken: Raster = (() => {
  const data = scan.colour.data.slice();
  for (let y = BREAK.y0; y < BREAK.y1; y++)
    data.copyWithin(3 * (y * SIDE + 90), 3 * (y * SIDE + 10), 3 * (y * SIDE + 70));
  return { ...scan.colour, data };
})();
const picture = toRgba8(broken);
export const ONE: RunSource[] = [{ id: 'source', sha256: 'x', picture }];
export const share = (texel: number) => (texel + 0.5) / SIDE;

/** A texel well inside each eaten hole, the largest first. */
export const holes = (() => {
  const { data } = scan.mask;
  const regions = findRegions(data, SIDE, SIDE, { low: 0, high: 127, connectivity: 4 });
  const inside = Array.from({ length: regions.count }, (_, r) => r).filter((r) => regions.boxes[4 * r] > 0);
  inside.sort((a, b) => regions.areas[b] - regions.areas[a]);
  return inside.map((r) => {
    const [x0, y0, x1, y1] = regions.boxes.subarray(4 * r, 4 * r + 4);
    return { x: (x0 + x1) >> 1, y: (y0 + y1) >> 1, width: x1 - x0, height: y1 - y0 };
  });
})();

/** In the holes that are treated, and where the stalk is broken. */
export function wrongTexels(mask: Mask): number {
  const treated = (x: number, y: number) =>
    (y >= BREAK.y0 && y < BREAK.y1) ||
    holes.slice(0, 6).some((h) => Math.abs(x - h.x) <= h.width / 2 + 1 && Math.abs(y - h.y) <= h.height / 2 + 1);
  return mask.data.filter((v, i) => treated(i % SIDE, Math.floor(i / SIDE)) && v >= 128 !== scan.mask.data[i] >= 128)
    .length;
}

/** With a step of strokes before the last: the holes stay filled with card, which is connected to nothing. */
export async function openBroken(page: Page, base = ''): Promise<void> {
  const strokes = makeStep('strokes-by-hand', 'strokes');
  const run = ([fromColour, bleed]: PieceDoc['run']) => [
    { ...fromColour, params: { ...fromColour.params, reach: 'connected' } } as typeof fromColour,
    strokes,
    bleed,
  ];
  await openNew(page, 'broken_leaf.png', broken, run, base);
  await page.getByTestId('step-strokes').locator('.face').click();
  await settled(page);
}

export async function press(page: Page, x: number, y: number): Promise<void> {
  const at = await seenAt(page, share(x), share(y));
  await page.mouse.click(at.x, at.y);
  await settled(page);
}
export const count = (page: Page, n: number) =>
  expect(page.getByTestId('stroke-count')).toHaveText(new RegExp(`^${n} stroke`));
export const tool = (page: Page, name: string) => page.getByTestId('tool').getByText(name, { exact: true }).click();
