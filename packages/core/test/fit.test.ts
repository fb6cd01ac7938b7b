import { describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import {
  boxTurned,
  evaluateRun,
  keptHull,
  largestIn,
  leastSeam,
  makeMask,
  makePicture,
  makeStep,
  overlapOf,
  resampleMap,
  type Corner,
  type Mask,
  type StepKindName,
  type StepParams,
} from '../src/testing.ts';
import { after, drawMask, env, noiseMask, noisePicture, random, stateOf } from './helpers/pictures.ts';

const host = env();

/** A soft ellipse of the given half axes, turned clockwise. */
function ellipse(side: number, a: number, b: number, degrees: number): Mask {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return makeMask(
    side,
    side,
    Uint8Array.from({ length: side * side }, (_, i) => {
      const [x, y] = [(i % side) + 0.5 - side / 2, Math.floor(i / side) + 0.5 - side / 2];
      const [u, v] = [c * x + s * y, c * y - s * x];
      const far = Math.hypot(u / a, v / b);
      return Math.round(255 * Math.min(1, Math.max(0, (1 - far) * Math.min(a, b) + 0.5)));
    }),
  );
}

describe('the angle at which a subject is largest (Andrew 1979; Toussaint 1983)', () => {
  test('a hull holds every kept corner and only turns one way', () => {
    const hull = keptHull(drawMask(['.....', '..#..', '.###.', '#....']), 128);
    expect(hull).toHaveLength(7);
    const area = hull.reduce((sum, [x, y], i) => {
      const [u, v] = hull[(i + 1) % hull.length];
      return sum + (x * v - u * y) / 2;
    }, 0);
    expect(Math.abs(area)).toBe(8);
    expect(keptHull(drawMask(['...']), 128)).toEqual([]);
  });

  test.each([1, 2, 0.5, 1.6])('against brute force over angles, ratio %d', (ratio) => {
    const next = random(17);
    for (let k = 0; k < 6; k++) {
      const points = Array.from({ length: 30 }, (): Corner => [200 * next(), 90 * next() * (k % 3)]);
      const rows = 120;
      const data = new Uint8Array(220 * rows);
      for (const [x, y] of points) data[Math.min(rows - 1, Math.floor(y)) * 220 + Math.floor(x)] = 255;
      const hull = keptHull(makeMask(220, rows, data), 128);
      const sizeOf = ({ width, height }: { width: number; height: number }) => Math.max(width / ratio, height);
      let least = Infinity;
      for (let angle = -90; angle < 90; angle += 0.25) least = Math.min(least, sizeOf(boxTurned(hull, angle)));
      const best = sizeOf(largestIn(hull, ratio));
      expect(best).toBeLessThanOrEqual(least + 1e-9); // exact: no sampled angle is better
      expect(best).toBeGreaterThan(least - 0.8);
    }
  });

  test('a long leaf goes on the diagonal of its square (common practice), whatever way it lay', () => {
    for (const lay of [0, 30, 90, 145]) {
      const { angle } = largestIn(keptHull(ellipse(256, 110, 22, lay), 128), 1);
      const off = (((lay + angle) % 90) + 90) % 90;
      expect(Math.abs(off - 45)).toBeLessThan(3);
    }
  });
});

describe('resampling', () => {
  test('half the size by Lanczos is what libvips makes (sharp, kernel lanczos3)', async () => {
    const { data } = noiseMask(4, 96, 64);
    const soft = makeMask(
      96,
      64,
      data.map((v, i) => (v + data[Math.max(0, i - 1)] + data[Math.min(6143, i + 1)]) / 3),
    );
    const placing = { width: 48, height: 32, xx: 2, xy: 0, x0: 0, yx: 0, yy: 2, y0: 0 };
    const own = resampleMap('roughness', soft, placing, 'Lanczos', host);
    const raw = { raw: { width: 96, height: 64, channels: 1 as const } };
    const theirs = await sharp(soft.data, raw)
      .resize(48, 32, { kernel: 'lanczos3', fit: 'fill' })
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    let [sum, worst] = [0, 0];
    for (let y = 4; y < 28; y++) {
      for (let x = 4; x < 44; x++) {
        const off = Math.abs(own.data[y * 48 + x] - theirs[y * 48 + x]);
        sum += off;
        worst = Math.max(worst, off);
      }
    }
    expect(worst).toBeLessThanOrEqual(2);
    expect(sum / (24 * 40)).toBeLessThan(0.6);
  });

  const KINDS = ['colour', 'mask', 'height', 'normal'] as const;
  function noiseOf(kind: (typeof KINDS)[number], width: number, height: number) {
    if (kind === 'colour') return noisePicture(5, width, height);
    if (kind === 'mask') return noiseMask(6, width, height);
    const channels = kind === 'normal' ? 3 : 1;
    const { data } = noisePicture(7, width, height);
    const wide = Uint16Array.from({ length: channels * width * height }, (_, i) => 257 * data[i]);
    return { width, height, channels, data: wide } as const;
  }

  test.each(KINDS)('%s: what is turned in parts does not depend on where the parts begin', (kind) => {
    const raster = noiseOf(kind, 230, 190);
    const whole = { width: 300, height: 260, xx: 0.8, xy: 0.6, x0: -60, yx: -0.6, yy: 0.8, y0: 70 };
    const [u, v] = [37, 21];
    const part = {
      ...whole,
      width: 200,
      height: 200,
      x0: whole.x0 + 0.8 * u + 0.6 * v,
      y0: whole.y0 - 0.6 * u + 0.8 * v,
    };
    const [a, b] = [whole, part].map((placing) => resampleMap(kind, raster, placing, 'Lanczos', host));
    const { channels } = a;
    let off = 0;
    for (let y = 0; y < 200; y++) {
      for (let x = 0; x < 200 * channels; x++) {
        const there = a.data[channels * ((y + v) * 300 + u) + x];
        if (Math.abs(there - b.data[channels * y * 200 + x]) > (kind === 'normal' ? 600 : 3)) off++;
      }
    }
    expect(off / (200 * 200)).toBeLessThan(0.001); // a place that lies between two fractions
  });

  test.each(KINDS)('%s: half the size upside down is half the size, reversed', (kind) => {
    const raster = noiseOf(kind, 64, 48);
    const upright = { width: 32, height: 24, xx: 2, xy: 0, x0: 0, yx: 0, yy: 2, y0: 0 };
    const [a, b] = [upright, { ...upright, xx: -2, yy: -2, x0: 64, y0: 48 }].map((placing) =>
      resampleMap(kind, raster, placing, 'Lanczos', host),
    );
    const { channels, data } = a;
    const full = data instanceof Uint8Array ? 255 : 65535;
    for (let i = 0; i < 32 * 24; i++) {
      for (let c = 0; c < channels; c++) {
        const turned = b.data[channels * (32 * 24 - 1 - i) + c];
        const same = kind === 'normal' && c < 2 ? full - turned : turned; // directions turn too
        expect(Math.abs(data[channels * i + c] - same)).toBeLessThanOrEqual(full > 255 ? 2 : 1);
      }
    }
  });

  test('a turned ellipse is the ellipse drawn at that angle; a whole shift copies', () => {
    const [a, b] = [ellipse(128, 50, 18, 0), ellipse(128, 50, 18, 33)];
    const turned = after('place', stateOf(noisePicture(1, 128, 128), a), { angle: 33 }).mask;
    const off = turned.data.reduce((sum, v, i) => sum + Math.abs(v - b.data[i]), 0) / turned.data.length;
    expect(off).toBeLessThan(0.35);
    const picture = noisePicture(2, 20, 10);
    const state = stateOf(picture, noiseMask(3, 20, 10));
    const padded = after('pad', state, { left: 3, right: 2, top: 1, bottom: 0 });
    expect([padded.mask.width, padded.mask.height]).toEqual([25, 11]);
    expect(padded.mask.data[0]).toBe(0);
    for (const [x, y] of [
      [0, 0],
      [19, 9],
      [7, 4],
    ]) {
      expect(padded.mask.data[(y + 1) * 25 + x + 3]).toBe(state.mask.data[y * 20 + x]);
      expect(padded.colour.data[4 * ((y + 1) * 25 + x + 3)]).toBe(picture.data[4 * (y * 20 + x)]);
    }
    expect(padded.colour.data[0]).toBe(picture.data[0]); // colour goes on
  });

  test.each([0.5, 2])('colour stays at a size of %d where it is even, whatever the filter', (factor) => {
    const even = makePicture(
      16,
      16,
      Uint8Array.from({ length: 1024 }, (_, i) => [90, 140, 60, 255][i % 4]),
    );
    for (const filter of ['box', 'triangle', 'Kaiser', 'Lanczos'] as const) {
      const { colour, mask } = after('resize', stateOf(even), { factor, filter });
      expect([...new Set(colour.data)].sort()).toEqual([...new Set(even.data)].sort());
      expect(mask.width).toBe(16 * factor);
    }
  });

  test('normals turn with the picture', () => {
    const heights = (turned: number) => {
      const [c, s] = [Math.cos(turned), Math.sin(turned)];
      return Uint16Array.from({ length: 64 * 64 }, (_, i) => {
        const [x, y] = [(i % 64) - 31.5, Math.floor(i / 64) - 31.5];
        return 32768 + 160 * (c * x + s * y);
      });
    };
    const state = (turned: number) => ({
      ...stateOf(noisePicture(1, 64, 64)),
      maps: new Map([['height' as const, { width: 64, height: 64, channels: 1 as const, data: heights(turned) }]]),
    });
    const own = after('normal-from-height', state(0), { depth: 60 });
    const turned = after('place', own, { angle: 40 }).maps.get('normal')!;
    const wanted = after('normal-from-height', state((40 * Math.PI) / 180), { depth: 60 }).maps.get('normal')!;
    for (const at of [32 * 64 + 32, 30 * 64 + 38]) {
      for (let c = 0; c < 3; c++) expect(Math.abs(turned.data[3 * at + c] - wanted.data[3 * at + c])).toBeLessThan(260);
    }
  });
});

describe('the steps of the fit', () => {
  const leaf = stateOf(noisePicture(5, 256, 256), ellipse(256, 100, 20, 0));
  const fitted = <K extends StepKindName>(kind: K, params: Partial<StepParams[K]>) => after(kind, leaf, params);

  test('trim leaves the margin and says what it saves; the card becomes as much smaller', () => {
    const { mask, frame, notice } = fitted('trim', { margin: 6 });
    expect([mask.width, mask.height, frame?.width]).toEqual([216, 52, 216]);
    expect(frame!.share).toBeCloseTo(216 / 256, 6);
    expect(notice).toContain('83 % fewer');
  });

  test('turn to fit tells the texel gain, which is what more of the texture is kept', () => {
    const upright = fitted('turn-to-fit', { how: 'given angle', margin: 0, size: 256 });
    const turned = fitted('turn-to-fit', { margin: 0, size: 256 });
    const kept = (m: Mask) => m.data.reduce((sum, v) => sum + v / 255, 0);
    const told = Number(/\+(\d+) %/.exec(turned.notice!)![1]);
    expect(Math.abs(100 * (kept(turned.mask) / kept(upright.mask) - 1) - told)).toBeLessThan(3);
    expect(told).toBeGreaterThan(60);
    expect([turned.mask.width, turned.mask.height]).toEqual([256, 256]);
  });

  test('resize goes by factor, side and texels per metre, to sides that were asked for', () => {
    expect(fitted('resize', { factor: 0.3, sides: 'multiple of 4' }).mask.width).toBe(80);
    expect(fitted('resize', { by: 'longer side', side: 100, sides: 'power of two' }).mask.width).toBe(128);
    const dense = fitted('resize', { by: 'texels per metre', density: 500 }); // a texel is a millimetre in this test
    expect([dense.mask.width, dense.notice]).toEqual([
      128,
      '128 × 128, 500 texels per metre of the card (1000 before).',
    ]);
  });

  test('at view size the same fit comes out smaller', () => {
    const run = (['trim', 'turn-to-fit', 'resize'] as const).map((k, i) => makeStep(`step-${i}`, k));
    const alpha = (m: Mask) => {
      const data = new Uint8Array(4 * m.data.length).fill(200);
      m.data.forEach((v, i) => (data[4 * i + 3] = v));
      return makePicture(m.width, m.height, data);
    };
    const pull = makeStep('pull', 'from-channel', { channel: 'alpha' });
    const at = (m: Mask, scale: number) =>
      evaluateRun([pull, ...run], { scale, sources: [{ id: 'c', sha256: 'c', picture: alpha(m) }] });
    const [full, view] = [at(ellipse(512, 200, 40, 20), 1), at(ellipse(256, 100, 20, 20), 0.5)];
    expect(Math.abs(full.mask.width - 2 * view.mask.width)).toBeLessThanOrEqual(4);
    expect(Math.abs(full.frame!.width - view.frame!.width)).toBeLessThanOrEqual(4);
    expect(Math.abs(view.frame!.share - full.frame!.share)).toBeLessThan(0.02);
  });
});

describe('tiles', () => {
  test('the least seam is that of brute force (Efros, Freeman 2001)', () => {
    const next = random(12);
    const cost = Float32Array.from({ length: 5 * 6 }, () => next());
    const seam = leastSeam({ wide: 5, long: 6, cost });
    const costOf = (path: ArrayLike<number>) => Array.from(path).reduce((sum, x, y) => sum + cost[5 * y + x], 0);
    let best = Infinity;
    const walk = (path: number[]) => {
      if (path.length === 6) {
        if (path[0] === path[5] && path[0] === seam[0]) best = Math.min(best, costOf(path));
        return;
      }
      for (const step of [-1, 0, 1]) {
        const x = path[path.length - 1] + step;
        if (x >= 0 && x < 5) walk([...path, x]);
      }
    };
    for (let x = 0; x < 5; x++) walk([x]);
    expect(costOf(seam)).toBeCloseTo(best, 5);
    expect(seam[0]).toBe(seam[5]);
  });

  test('a weave whose period does not divide its side repeats without a step, and the notice gives the error', () => {
    const side = 195;
    const wave = (v: number) => (Math.sin((2 * Math.PI * v) / 23) > 0.2 ? 255 : 0);
    const mask = makeMask(
      side,
      side,
      Uint8Array.from({ length: side * side }, (_, i) => Math.max(wave(i % side), wave(Math.floor(i / side)))),
    );
    const colour = makePicture(
      side,
      side,
      Uint8Array.from({ length: 4 * side * side }, (_, i) => (i % 4 === 3 ? 255 : mask.data[i >> 2] / 2)),
    );
    const { mask: tile, notice } = after('make-tileable', stateOf(colour, mask), { overlap: 60, blend: 0 });
    const border = (m: Mask) => {
      let sum = 0;
      for (let k = 0; k < m.width; k++) {
        sum +=
          Math.abs(m.data[k * m.width] - m.data[k * m.width + m.width - 1]) +
          Math.abs(m.data[k] - m.data[(m.height - 1) * m.width + k]);
      }
      return sum / 2 / m.width;
    };
    const inside = 255 * (2 / 23) * (1 - 10 / 23); // steps that the weave has anywhere
    expect([tile.width % 23, tile.height % 23]).toEqual([0, 0]); // whole repeats stay
    expect(border(mask)).toBeGreaterThan(2 * inside);
    expect(border(tile)).toBeLessThan(1.6 * inside);
    const [before, along] = /differed by ([\d.]+), along the seam by ([\d.]+)/.exec(notice!)!.slice(1).map(Number);
    expect(along).toBeLessThan(before / 2);
    expect(overlapOf(colour, mask, 40, true).cost).toHaveLength(40 * side);
  });
});
