import { describe, expect, test } from '@jest/globals';
import {
  cardRegions,
  cardSurface,
  cutOfCard,
  makeMask,
  makeRecipe,
  ONE_CARD,
  partOutlineChanged,
  handCutLoses,
  outlineOfCard,
  setCards,
  type CardRegion,
  type CornerChange,
  type Mask,
} from '../src/testing.ts';

const SIDE = 256;
const material = { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: true } as const;
const outline = { corners: 8, holes: false, downTo: 2 };
const maskOf = (kept: (x: number, y: number) => boolean): Mask =>
  makeMask(SIDE, SIDE, Uint8Array.from({ length: SIDE * SIDE }, (_, i) => (kept((i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5) ? 255 : 0))); // prettier-ignore

/** Even-odd along a line to the right (W. R. Franklin, PNPOLY). */
const isIn = (polygon: { x: number; y: number }[], x: number, y: number) =>
  polygon.reduce((inside, a, i) => {
    const b = polygon.at(i - 1)!;
    return a.y > y !== b.y > y && x < ((b.x - a.x) * (y - a.y)) / (b.y - a.y) + a.x ? !inside : inside;
  }, false);

describe('outlines of the parts of an atlas', () => {
  const turn = 30;
  const [cos, sin] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
  /** An upright disc, and an ellipse that is turned, its rectangle reaching over the disc's. */
  const regions: CardRegion[] = [
    { key: 'disc 0', x: 0.25, y: 0.3, turn: 0, wide: 0.3, tall: 0.3 },
    { key: 'ellipse 0', x: 0.62, y: 0.55, turn, wide: 0.36, tall: 0.7 },
  ];
  const inDisc = (x: number, y: number) => Math.hypot(x / SIDE - 0.25, y / SIDE - 0.3) < 0.14;
  const inEllipse = (x: number, y: number) => {
    const [dx, dy] = [x / SIDE - 0.62, y / SIDE - 0.55];
    return Math.hypot((dx * cos + dy * sin) / 0.16, (dy * cos - dx * sin) / 0.33) < 1;
  };
  const mask = maskOf((x, y) => inDisc(x, y) || inEllipse(x, y));
  const cut = cutOfCard(mask, outline, material, regions);

  test('each holds its own part, a turned one too, and nothing of its neighbour', () => {
    expect(cut.outline.polygons).toHaveLength(2);
    const [disc, ellipse] = cut.outline.polygons;
    let [lost, strange] = [0, 0];
    for (let i = 0; i < mask.data.length; i++) {
      const [x, y] = [(i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5];
      for (const [dx, dy] of [[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]]) {
        if (inDisc(x, y) && !isIn(disc, x + dx * 0.99, y + dy * 0.99)) lost++;
        if (inEllipse(x, y) && !isIn(ellipse, x + dx * 0.99, y + dy * 0.99)) lost++;
      } // prettier-ignore
      if (inDisc(x, y) && isIn(ellipse, x, y)) strange++;
    }
    expect([lost, strange]).toEqual([0, 0]);
    // beside the outline of each alone: of a turned part, the upright boxes around its texels are held
    const alone = [inDisc, inEllipse].map((kept) => outlineOfCard(maskOf(kept), outline, material).area);
    expect(cut.outline.area / (alone[0] + alone[1])).toBeLessThan(1.08);
    expect(cutOfCard(maskOf(inDisc), outline, material, [regions[0]]).outline.area / alone[0]).toBeLessThan(1.01);
    expect(cut.whole).toBeCloseTo((0.3 * 0.3 + 0.36 * 0.7) * SIDE ** 2, -2.5);
  });

  test('the cards of a set are cut to them, at the places of the texture that the outlines have', () => {
    const parts = [
      { sha256: 'a'.repeat(64), width: 100, height: 100 },
      { sha256: 'b'.repeat(64), width: 36, height: 70 },
    ];
    const placed = regions.map(({ x, y, turn: by, tall }, k) => ({
      part: parts[k].sha256,
      copy: 0,
      x,
      y,
      turn: by,
      tall,
    }));
    const atlas = { ...makeRecipe('atlas', { width: SIDE, height: SIDE }), parts } as never as Parameters<typeof cardRegions>[0]['atlas']; // prettier-ignore
    const of = {
      atlas: { ...atlas!, params: { ...atlas!.params, placed } },
      set: { ...ONE_CARD, kind: 'in a row' as const, cards: 2 },
    };
    expect(cardRegions(of)).toEqual(
      regions.map((r, k) => ({ ...r, key: `${parts[k].sha256} 0`, wide: expect.closeTo(r.wide, 9) })),
    );
    const { mesh } = cardSurface({ ...of, cardWidth: 1, regionCutOuts: cut.regionCutOuts }, mask);
    const uvs = Array.from({ length: mesh.uvs.length / 2 }, (_, i) => [
      mesh.uvs[2 * i] * SIDE,
      mesh.uvs[2 * i + 1] * SIDE,
    ]);
    for (const { x, y } of cut.outline.polygons.flat()) {
      expect(Math.min(...uvs.map(([u, v]) => Math.hypot(u - x, v - y)))).toBeLessThan(0.01);
    }
    expect(mesh.uvs.length / 2).toBe(cut.outline.polygons.flat().length);
    expect(cardRegions({ ...of, set: { ...of.set, byRegion: false } })).toEqual([]);
  });

  test('a part that lies in the rectangle of a larger one is left to its own', () => {
    const ring = maskOf(
      (x, y) => Math.abs(Math.hypot(x - 128, y - 128) - 100) < 12 || Math.hypot(x - 128, y - 128) < 20,
    );
    const two: CardRegion[] = [
      { key: 'ring 0', x: 0.5, y: 0.5, turn: 0, wide: 0.9, tall: 0.9 },
      { key: 'disc 0', x: 0.5, y: 0.5, turn: 0, wide: 0.2, tall: 0.2 },
    ];
    const made = cutOfCard(ring, { ...outline, corners: 16, holes: true }, material, two);
    expect(made.outline.holes).toHaveLength(1);
    expect(made.outline.holes[0].every(({ x, y }) => Math.hypot(x - 128, y - 128) > 60)).toBe(true);
  });

  test('corners of one are set by hand: where they go, where they stop, and where it is packed again', () => {
    const at = { polygon: 1, corner: 0 };
    const from = cut.outline.polygons[1][0];
    const changed = (change: CornerChange, how = outline) => {
      const parts = partOutlineChanged(mask, cut, how, material, regions, change);
      return parts && { parts, cut: cutOfCard(mask, { ...how, parts }, material, regions) };
    };
    const away = { x: from.x + (from.x - 0.62 * SIDE) * 0.1, y: from.y + (from.y - 0.55 * SIDE) * 0.1 };
    const out = changed({ ...at, do: 'move', to: away })!;
    expect(Object.keys(out.parts)).toEqual(['ellipse 0']);
    expect(out.cut.outline.polygons[1][0]).toEqual({ x: expect.closeTo(away.x, 6), y: expect.closeTo(away.y, 6) });
    expect(out.cut.outline.polygons[0]).toEqual(cut.outline.polygons[0]);
    // inwards it stops before what is kept; where it may cut it goes on, and what is lost is counted
    const middle = { x: 0.62 * SIDE, y: 0.55 * SIDE };
    const loses = ({ parts }: { parts: object }) =>
      handCutLoses(mask, { ...outline, parts: parts as never }, material, regions);
    expect(loses(changed({ ...at, do: 'move', to: middle })!)).toBe(0);
    const through = changed({ ...at, do: 'move', to: { x: (from.x + middle.x) / 2, y: (from.y + middle.y) / 2 } }, {
      ...outline,
      cuts: true,
    } as never)!;
    const inside = through.cut.outline.polygons[1];
    let lost = 0;
    for (let i = 0; i < mask.data.length; i++) {
      const [x, y] = [(i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5];
      if (inEllipse(x, y) && !isIn(inside, x, y)) lost++;
    }
    expect(lost).toBeGreaterThan(100);
    expect(loses(through) / lost).toBeGreaterThan(0.95);
    expect(loses(through) / lost).toBeLessThan(1.15); // squares at the rim, turned
    // a corner more; moved with its part
    const more = changed({ ...at, do: 'add' })!;
    expect(more.cut.outline.polygons[1]).toHaveLength(cut.outline.polygons[1].length + 1);
    const moved = [regions[0], { ...regions[1], x: 0.5, turn: 0 }];
    const [, packed] = cutOfCard(mask, { ...outline, parts: out.parts }, material, moved).regionCutOuts!;
    for (const [k, [x, y]] of packed.polygons[0].entries()) {
      const [u, v] = out.cut.regionCutOuts![1].polygons[0][k];
      expect([x, y]).toEqual([expect.closeTo(u, 9), expect.closeTo(v, 9)]);
    }
  });

  test('as many are cut as a set has cards; a rectangle beyond all measure is left whole', () => {
    const disc = maskOf((x, y) => Math.hypot(x - 128, y - 128) < 40);
    const many = Array.from({ length: 40 }, () => ({ key: 'p', x: 0.5, y: 0.5, turn: 0, wide: 0.4, tall: 0.4 }));
    expect(cutOfCard(disc, outline, material, many).regionCutOuts).toHaveLength(setCards('along a line').max);
    const [vast] = cutOfCard(disc, outline, material, [{ ...many[0], wide: 4, tall: 4 }]).regionCutOuts!;
    expect(vast.polygons[0]).toEqual([[0, 0], [1, 0], [1, 1], [0, 1]]); // prettier-ignore
  });
});
