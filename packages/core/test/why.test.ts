import { expect, test } from '@jest/globals';
import { answerWhy, CARD_SIDES, makeStep, PIECE_DEFAULTS, SKY_LIGHTS, WHY_NAMES, type PieceDoc, type SnagContext, type StandFacts, type WhyName } from '../src/testing.ts'; // prettier-ignore

const counts = (at: Record<number, number>) => Array.from({ length: 256 }, (_, v) => at[v] ?? 0);
/** A quarter dropped, the middle kept. */
const HOLED = counts({ 0: 250, 255: 750 });
const DROPPED = counts({ 0: 1000 });
const KEPT = counts({ 255: 1000 });
const ALPHA = { alpha: 'present', border: { colour: [0, 0, 0], share: 0, spread: 0 }, notes: [] };

const doc = (more: object = {}): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  name: 'Test',
  sources: [{ id: 's', sha256: 'a', fileName: 'leaf.png' }],
  run: [makeStep('m', 'from-channel', { channel: 'alpha' })],
  ...more,
});
const SURFACE = { brightness: 0.3, maps: new Map(), halo: { from: null, worst: null }, borders: { left: 0, right: 0, top: 0, bottom: 0 }, colourIsNormals: false }; // prettier-ignore
function ask(name: WhyName, of: PieceDoc, more: object = {}, stand: Partial<StandFacts> = {}) {
  const levels = [1024, 256, 64].map((width) => ({ width, height: width, counts: HOLED }));
  const context = { doc: of, facts: new Map([['a', ALPHA]]), counts: HOLED, border: DROPPED, middle: KEPT, levels, surface: SURFACE, ...more }; // prettier-ignore
  const seen = { seesFront: true, level: 0, light: SKY_LIGHTS.overcast, overlay: null, ...stand };
  return answerWhy(name, { ...(context as unknown as SnagContext), stand: seen });
}
const material = (change: object) => doc({ material: { ...PIECE_DEFAULTS.material, ...change } });
const maps = (of: Record<string, number[]>) => ({ surface: { ...SURFACE, maps: new Map(Object.entries(of).map(([map, means]) => [map, { texels: 1, channels: means.map((mean) => ({ mean })) }])) } }); // prettier-ignore
const clear = (change: object) => ({ ...SKY_LIGHTS.clear, ...change });

test('where all is well, each question walks all of its links and says what is left', () => {
  for (const name of WHY_NAMES) {
    const { held, broken, otherwise } = ask(name, material({ doubleSided: true }));
    expect([name, broken]).toEqual([name, null]);
    expect(held.length).toBeGreaterThan(2);
    for (const { text } of held) expect(text).not.toMatch(/undefined|NaN/);
    expect(otherwise).toMatch(/\.$/);
  }
});

const BROKEN: [WhyName, string, PieceDoc, object, Partial<StandFacts>][] = [
  ['holes', 'alpha of the picture', doc({ run: [] }), {}, {}],
  ['holes', 'run', doc(), { counts: KEPT }, {}],
  ['holes', 'polarity', doc(), { border: KEPT, middle: DROPPED }, {}],
  ['holes', 'mode', material({ mode: 'opaque' }), {}, {}],
  ['holes', 'cutoff', material({ cutoff: 0.99 }), { counts: counts({ 10: 500, 200: 500 }) }, {}],
  ['holes', 'sides', material({ doubleSided: false }), {}, { seesFront: false }],
  ['holes', 'card and its UVs', doc({ mesh: { sha256: 'b' } }), { mesh: { uvUsed: 0.2 } }, {}],
  ['holes', 'distance', doc(), { levels: [{ width: 1024, height: 1024, counts: HOLED }, { width: 512, height: 512, counts: KEPT }] }, { level: 1.2 }], // prettier-ignore
  ['holes', 'light', doc(), {}, { overlay: 'UVs' }],
  ['black', 'light', doc(), {}, { light: clear({ exposure: -4 }) }],
  ['black', 'side of the sun', doc(), {}, { light: clear({ turn: 180 }) }],
  ['black', 'colour', doc(), { surface: { ...SURFACE, brightness: 0.001 } }, {}],
  ['black', 'normals', doc(), maps({ normal: [0.5, 0.5, 0.5] }), {}],
  ['black', 'occlusion and metalness', doc(), maps({ occlusion: [0.02] }), {}],
  ['black', 'occlusion and metalness', doc(), maps({ metalness: [1] }), {}],
  ['back', 'sides', material({ doubleSided: false }), {}, {}],
  [
    'back',
    'colour of the back',
    doc({ sides: { ...CARD_SIDES, tint: [0, 0, 0] }, material: { ...PIECE_DEFAULTS.material, doubleSided: false } }),
    {},
    {},
  ],
  ['halo', 'cutoff', material({ cutoff: 0.1 }), {}, {}],
  ['shimmer', 'how the clip is drawn', doc({ drawn: { by: 'hashed', samples: 4 } }), {}, {}],
  ['shimmer', 'highlights', doc(), maps({ roughness: [0.1], normal: [0.5, 0.5, 1] }), {}],
  ['far', 'mip levels', doc(), { levels: [1024, 256].map((width, k) => ({ width, height: width, counts: k ? DROPPED : HOLED })) }, {}], // prettier-ignore
];

test.each(BROKEN)('%s: stops at “%s”, and its remedy mends that link', (name, link, of, more, stand) => {
  const { broken } = ask(name, of, more, stand);
  expect(broken?.name).toBe(link);
  const { remedy, look } = broken!;
  if (remedy && link !== 'distance' && link !== 'mip levels' && link !== 'polarity') {
    // what the run computes changes with the piece: here only what is set
    expect(
      ask(
        name,
        remedy.apply(of, () => 'new'),
        more,
        stand,
      ).broken?.name,
    ).not.toBe(link);
  }
  if (look?.light) {
    const light = { ...SKY_LIGHTS.clear, ...stand.light, ...look.light };
    expect(ask(name, of, more, { ...stand, light }).broken?.name).not.toBe(link);
  }
});
