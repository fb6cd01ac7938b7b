import { expect, test } from '@jest/globals';
import { drawLeafScan, drawMane } from '@lithe-sieve/demo';
import { fieldLoss, findSnags, PIECE_DEFAULTS, type FieldDivisor, type Mask, type PieceDoc } from '@lithe-sieve/core/testing'; // prettier-ignore

const DIVISORS: FieldDivisor[] = [2, 4, 8];
const counts = new Uint32Array(256).fill(1);

function snagOf(mask: Mask, divisor: FieldDivisor, mode: 'mask' | 'blend' = 'mask') {
  const doc = {
    ...structuredClone(PIECE_DEFAULTS),
    material: { ...PIECE_DEFAULTS.material, mode },
    handOff: { ...PIECE_DEFAULTS.handOff, profile: `distance-${divisor}` },
    name: 'Piece',
    sources: [],
    run: [],
  } as PieceDoc;
  const field = fieldLoss(mask, 128, divisor);
  const context = { doc, facts: new Map(), counts, border: counts, middle: counts, levels: [], field };
  const snag = findSnags(context).find((s) => s.id === 'field-rounds');
  return { field, snag, mended: snag?.remedy?.apply(doc, () => 'id').handOff.profile };
}

test('a leaf is as sharp as distances of half the size; of hair each size loses some, and the remedy is the next larger', () => {
  expect(snagOf(drawLeafScan(5, 512).mask, 2).snag).toBeUndefined();
  const hair = drawMane(5, 512).mask;
  const found = DIVISORS.map((divisor) => snagOf(hair, divisor));
  expect(found.map((f) => f.mended)).toEqual(['rgb-and-mask', 'distance-2', 'distance-4']);
  expect(found[2].field.wrong).toBeGreaterThan(found[0].field.wrong);
  expect(found[0].snag?.text).toContain(`${(100 * found[0].field.kept).toFixed(1)} %`);
});

test('nothing is said where nothing is clipped', () => {
  expect(snagOf(drawMane(5, 256).mask, 8, 'blend').snag).toBeUndefined();
});
