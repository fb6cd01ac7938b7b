import { describe, expect, test } from '@jest/globals';
import {
  evaluateRun,
  findSnags,
  haloOf,
  histogram,
  makeMask,
  makePicture,
  makeStep,
  PIECE_DEFAULTS,
  summariseMask,
  surfaceFacts,
  type Picture,
  type PieceDoc,
  type SourceFacts,
  type StepEntry,
} from '../src/testing.ts';
import { random } from './helpers/pictures.ts';

const SIDE = 128;

/** A green disc of uneven colour; what lies under alpha 0 is given. */
function cutOut(under: [number, number, number]): Picture {
  const next = random(5);
  const data = new Uint8Array(4 * SIDE * SIDE);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const far = Math.hypot((i % SIDE) - 64, Math.floor(i / SIDE) - 64);
    const alpha = Math.min(1, Math.max(0, 50.5 - far));
    const shade = 0.9 + 0.2 * next();
    data.set(alpha > 0 ? [70 * shade, 110 * shade, 50 * shade, 255 * alpha] : [...under, 0], 4 * i);
  }
  return makePicture(SIDE, SIDE, data);
}

/** Normals of the tops of spheres, green up or down, 8 bits. */
function bumps(up: boolean): Picture {
  const data = new Uint8Array(4 * SIDE * SIDE);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const [u, v] = [((i % SIDE) % 32) - 16, (Math.floor(i / SIDE) % 32) - 16];
    const [x, y] = [u / 26, v / 26];
    const n = [x, up ? -y : y, Math.sqrt(1 - x * x - y * y)];
    data.set([...n.map((x) => Math.round(127.5 + 127.5 * x)), 255], 4 * i);
  }
  return makePicture(SIDE, SIDE, data);
}

function snagsOf(pictures: Picture[], run: StepEntry[]) {
  const sources = pictures.map((picture, i) => ({ id: `source-${i}`, sha256: `${i}`.repeat(64), picture }));
  const doc: PieceDoc = {
    ...structuredClone(PIECE_DEFAULTS),
    name: 'Test',
    sources: sources.map(({ id, sha256 }) => ({ id, sha256, fileName: `${id}.png` })),
    run,
  };
  const state = evaluateRun(run, { sources });
  const { levels, border, middle } = summariseMask([state.mask]);
  const doubts = state.steps.flatMap(({ stepId, doubt }) => (doubt ? [{ stepId, doubt }] : []));
  const surface = surfaceFacts(state.colour, state.mask, state.maps);
  const counts = histogram(state.mask);
  const facts = new Map(
    sources.map(({ sha256, picture }) => [
      sha256,
      { ...picture, alpha: 'present', notes: [] } as unknown as SourceFacts,
    ]),
  );
  return {
    doc,
    snags: findSnags({ doc, facts, counts, border, middle, levels: levels.slice(0, 0), surface, doubts }),
  };
}

const alpha = makeStep('alpha-step', 'from-channel', { channel: 'alpha' });
const after = (pictures: Picture[], run: StepEntry[], id: string) => {
  const { doc, snags } = snagsOf(pictures, run);
  const snag = snags.find((s) => s.id === id);
  expect(snag?.text).toBeTruthy();
  const mended = snag?.remedy?.apply(doc, () => 'made-step');
  return mended ? snagsOf(pictures, mended.run).snags.map((s) => s.id) : null;
};

describe('halo', () => {
  test('bright green under alpha 0 is a snag, and its remedy takes it away', () => {
    expect(after([cutOut([0, 255, 0])], [alpha], 'halo')).not.toContain('halo');
    expect(snagsOf([cutOut([70, 110, 50])], [alpha]).snags.map((s) => s.id)).not.toContain('halo');
    const where = snagsOf([cutOut([0, 255, 0])], [alpha]).snags.find((s) => s.id === 'halo')!.where!;
    expect(where.texels.length).toBeGreaterThan(40);
    for (const i of where.texels) expect(Math.hypot((i % SIDE) - 64, Math.floor(i / SIDE) - 64)).toBeGreaterThan(49); // outside the disc
    const short = makeStep('bleed-step', 'bleed', { under: 'transparent only', reach: 1 });
    expect(after([cutOut([0, 255, 0])], [alpha, short], 'halo')).not.toContain('halo');
  });

  test('is how far a plain average is from one that is weighted by alpha (common practice: premultiplied averages)', () => {
    const two = makePicture(
      32,
      32,
      Uint8Array.from({ length: 4096 }, (_, i) => (i % 4 === 3 ? 255 : i % 8 < 4 ? 0 : 255)),
    );
    const mask = makeMask(
      32,
      32,
      Uint8Array.from({ length: 1024 }, (_, i) => (i % 2 ? 255 : 0)),
    );
    const [level] = haloOf(two, mask, 128).levels;
    expect(level.away).toBeCloseTo(1 - 0.7979, 2); // white beside the mean of black and white light: L = ∛½
    expect(haloOf(two, makeMask(32, 32, new Uint8Array(1024).fill(255)), 128).levels[0].away).toBe(0);
  });
});

test('what touches opposite borders that are clamped is a snag; its remedy lets them repeat', () => {
  const bars = makePicture(
    64,
    64,
    Uint8Array.from({ length: 16384 }, (_, i) => (i % 4 === 3 ? ((i >> 2) % 16 < 6 ? 255 : 0) : 90)),
  );
  const { doc, snags } = snagsOf([bars], [alpha]);
  const snag = snags.find((s) => s.id === 'clamped-border')!;
  expect(snag.text).toContain('the top and the bottom border');
  expect(snag.remedy!.apply(doc, () => '').levels).toMatchObject({ wrapAcross: 'clamp', wrapDown: 'repeat' });
  expect(snagsOf([cutOut([70, 110, 50])], [alpha]).snags.map((s) => s.id)).not.toContain('clamped-border');
});

describe('maps', () => {
  const normals = (green: 'OpenGL' | 'DirectX') =>
    makeStep('normal-step', 'normal-from-picture', { sourceId: 'source-1', green });

  test.each([
    ['OpenGL', true],
    ['DirectX', false],
  ] as const)('green read the wrong way is found by integrability: %s', (right, up) => {
    const wrong = right === 'OpenGL' ? 'DirectX' : 'OpenGL';
    const pictures = [cutOut([70, 110, 50]), bumps(up)];
    expect(snagsOf(pictures, [alpha, normals(right)]).snags.map((s) => s.id)).not.toContain('green-doubtful');
    expect(after(pictures, [alpha, normals(wrong)], 'green-doubtful')).not.toContain('green-doubtful');
  });

  test('a photograph as normals, normals as colour, flat roughness, heights in steps', () => {
    const leaf = cutOut([70, 110, 50]);
    after([leaf, leaf], [alpha, normals('OpenGL')], 'stray-normals');
    expect(after([bumps(true)], [], 'colour-is-normals')).toContain('colour-is-normals'); // until the colour is there
    const flat = makeStep('rough-step', 'roughness', { from: 'one value' });
    expect(after([leaf], [alpha, flat], 'roughness-flat')).not.toContain('roughness-flat');
    const normal = makeStep('normal-step', 'normal-from-height');
    const newest = makeStep('height-step', 'height-from-picture');
    const first = { ...newest, version: 1 } as StepEntry; // later versions have no steps
    expect(after([leaf], [alpha, first, normal], 'height-bands')).not.toContain('height-bands');
    expect(snagsOf([leaf], [alpha, newest, normal]).snags.map((s) => s.id)).not.toContain('height-bands');
  });
});

test('a map of another shape is stretched, which is said; one of another size is not worth a word', () => {
  const square = cutOut([0, 0, 0]);
  const found = (width: number, height: number, fit: 'scale' | 'refuse') => {
    const other = makePicture(width, height, new Uint8Array(4 * width * height).fill(200));
    const run = [alpha, makeStep('normal-step', 'normal-from-picture', { sourceId: 'source-1', fit })];
    return snagsOf([square, other], run).snags.map((s) => s.text.split(':')[0]);
  };
  expect(found(64, 96, 'scale')).toContain('Stretched');
  expect(found(64, 64, 'scale')).not.toContain('Stretched');
  expect(found(64, 96, 'refuse')).toContain('Sizes differ');
});
