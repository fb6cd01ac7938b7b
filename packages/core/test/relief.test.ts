import { describe, expect, test } from '@jest/globals';
import {
  depthInside,
  fingerprint,
  localThickness,
  makeMask,
  makePicture,
  normalsOf,
  openSky,
  photometricStereo,
  reorient,
  type Mask,
} from '../src/testing.ts';
import { hasSteps } from '../src/relief/even-steps.ts';
import type { Heights } from '../src/relief/normals.ts';
import { after, env, noisePicture, random, stateOf } from './helpers/pictures.ts';

const host = env();

/** A height field of a formula, 0–1, and its normals for a depth in texels. */
function field(side: number, heightAt: (x: number, y: number) => number) {
  const data = new Uint16Array(side * side);
  for (let y = 0, i = 0; y < side; y++)
    for (let x = 0; x < side; x++, i++) data[i] = Math.round(65535 * heightAt(x, y));
  return { width: side, height: side, channels: 1 as const, data };
}

const normalAt = (data: Uint16Array, i: number) => [0, 1, 2].map((c) => data[3 * i + c] / 32767.5 - 1);
const degrees = (a: number[], b: number[]) =>
  (Math.acos(Math.min(1, (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / Math.hypot(...a) / Math.hypot(...b))) * 180) /
  Math.PI;

describe('normals of analytic height fields (calculus), within 0.1°', () => {
  const side = 128;
  const rise = 60;
  const cases: [string, (x: number, y: number) => number, (x: number, y: number) => [number, number]][] = [
    ['a plane', (x, y) => 0.1 + 0.003 * x + 0.002 * y, () => [0.003, 0.002]],
    [
      'a wave of 21 texels',
      (x) => 0.5 + 0.1 * Math.sin((2 * Math.PI * x) / 21),
      (x) => [((0.2 * Math.PI) / 21) * Math.cos((2 * Math.PI * x) / 21), 0],
    ],
    [
      'a sphere',
      (x, y) => Math.sqrt(Math.max(0, 90 * 90 - (x - 64) ** 2 - (y - 64) ** 2)) / 100,
      (x, y) => {
        const z = Math.sqrt(90 * 90 - (x - 64) ** 2 - (y - 64) ** 2);
        return [-(x - 64) / z / 100, -(y - 64) / z / 100];
      },
    ],
  ];
  test.each(cases)('%s', (_, heightAt, slopeAt) => {
    const { data } = normalsOf(field(side, heightAt), rise, host, new Uint16Array(3 * side * side));
    let worst = 0;
    for (let y = 4; y < side - 4; y += 3) {
      for (let x = 4; x < side - 4; x += 3) {
        if (Math.hypot(x - 64, y - 64) > 60) continue;
        const [p, q] = slopeAt(x, y);
        worst = Math.max(worst, degrees(normalAt(data, y * side + x), [-p * rise, q * rise, 1])); // y up
      }
    }
    expect(worst).toBeLessThan(0.1);
  });

  test.each(cases.slice(0, 2))('at the border: %s', (_, heightAt, slopeAt) => {
    const { data } = normalsOf(field(side, heightAt), rise, host, new Uint16Array(3 * side * side));
    const level = normalsOf(field(side, heightAt), rise, host, new Uint16Array(3 * side * side), true).data;
    let [worst, before] = [0, 0];
    for (let k = 0; k < side; k++) {
      for (const [x, y] of [[k, 0], [k, 1], [k, side - 1], [0, k], [1, k], [side - 1, k]]) {
        const [p, q] = slopeAt(x, y);
        const right = [-p * rise, q * rise, 1];
        worst = Math.max(worst, degrees(normalAt(data, y * side + x), right));
        before = Math.max(before, degrees(normalAt(level, y * side + x), right));
      }
    } // prettier-ignore
    expect(worst).toBeLessThan(0.3);
    expect(before).toBeGreaterThan(3); // as version 1 keeps it
  });

  test('a picture of a few texels has directions', () => {
    for (const [w, h] of [[1, 1], [2, 1], [1, 3], [3, 2]]) {
      const data = Uint16Array.from({ length: w * h }, (_, i) => 1000 * (i % w));
      const out = normalsOf({ width: w, height: h, channels: 1, data }, 65.535, host, new Uint16Array(3 * w * h));
      for (let i = 0; i < w * h; i++) expect(degrees(normalAt(out.data, i), [w > 1 ? -1 : 0, 0, 1])).toBeLessThan(0.01);
    } // prettier-ignore
  });

  test('a cliff leans at most 89°, and every direction has length 1', () => {
    const next = random(4);
    const { data } = normalsOf(
      field(32, () => next()),
      1e6,
      host,
      new Uint16Array(3 * 1024),
    );
    for (let i = 0; i < 1024; i++) {
      const n = normalAt(data, i);
      expect(Math.hypot(...n)).toBeCloseTo(1, 3);
      expect(n[2]).toBeGreaterThan(0.0174);
    }
  });
});

describe('heights of a picture of 8 bits', () => {
  const side = 256;
  const rise = 120;
  const picture = (heightAt: (x: number, y: number) => number) => {
    const data = new Uint8Array(4 * side * side).fill(255);
    for (let i = 0; i < side * side; i++)
      data.fill(Math.round(255 * heightAt(i % side, Math.floor(i / side))), 4 * i, 4 * i + 3);
    return makePicture(side, side, data);
  };
  const worstOf = (
    version: number,
    heightAt: (x: number, y: number) => number,
    slope: [number, number],
    from: number,
  ) => {
    const { maps } = after('height-from-picture', stateOf(picture(heightAt)), {}, { ...env(), version });
    const { data } = normalsOf(maps.get('height') as Heights, rise, host, new Uint16Array(3 * side * side));
    let worst = 0;
    for (let y = from; y < side - from; y++)
      for (let x = from; x < side - from; x++)
        worst = Math.max(worst, degrees(normalAt(data, y * side + x), [-slope[0] * rise, slope[1] * rise, 1]));
    return worst;
  };

  test.each([[0.0025, 0.0006], [0.001, 0.0004], [0.0005, 0], [0.0002, 0.0003]])('a plane that rises %d and %d a texel: within 1° up to the border, where steps were up to 23° off', (p, q) => {
    const heightAt = (x: number, y: number) => 0.1 + p * x + q * y;
    expect(worstOf(3, heightAt, [p, q], 0)).toBeLessThan(1);
    expect(worstOf(2, heightAt, [p, q], 40)).toBeLessThan(1);
    expect(worstOf(1, heightAt, [p, q], 40)).toBeGreaterThan(5);
  }); // prettier-ignore

  test('no height moves by more than half a step, and 16 bits stay as they are', () => {
    const noise = noisePicture(4, 64, 64);
    const grey = makePicture(
      64,
      64,
      noise.data.map((_, i) => (i % 4 === 3 ? 255 : noise.data[i - (i % 4)])),
    );
    const now = after('height-from-picture', stateOf(grey), {}).maps.get('height')!.data;
    const first = after('height-from-picture', stateOf(grey), {}, { ...env(), version: 1 }).maps.get('height')!.data;
    expect(Math.max(...now.map((v, i) => Math.abs(v - first[i])))).toBeLessThanOrEqual(139);
    expect([hasSteps(Uint16Array.of(0, 257, 65535)), hasSteps(Uint16Array.of(0, 258))]).toEqual([true, false]);
  });
});

test('reoriented blending: the published formula (Barré-Brisebois, Hill 2012), a flat base or detail changes nothing', () => {
  const next = random(9);
  const unit = () => {
    const [x, y] = [1.2 * next() - 0.6, 1.2 * next() - 0.6];
    return Float64Array.of(x, y, Math.sqrt(1 - x * x - y * y));
  };
  const out = new Float64Array(3);
  const up = Float64Array.of(0, 0, 1);
  for (let k = 0; k < 200; k++) {
    const [base, detail] = [unit(), unit()];
    reorient(base, detail, out);
    // as published: t = n1 · 2 + (−1, −1, 0), u = n2 · (−2, −2, 2) + (1, 1, −1) of maps in 0 … 1; r = t · dot(t, u) / t.z − u
    const [n1, n2] = [base, detail].map((n) => [...n].map((v) => v / 2 + 0.5));
    const t = [2 * n1[0] - 1, 2 * n1[1] - 1, 2 * n1[2]];
    const u = [-2 * n2[0] + 1, -2 * n2[1] + 1, 2 * n2[2] - 1];
    const dot = t[0] * u[0] + t[1] * u[1] + t[2] * u[2];
    const published = t.map((v, c) => (v * dot) / t[2] - u[c]);
    published.forEach((v, c) => expect(out[c]).toBeCloseTo(v, 12));
    expect(Math.hypot(...out)).toBeCloseTo(1, 12);
    reorient(base, up, out);
    base.forEach((v, c) => expect(out[c]).toBeCloseTo(v, 12));
    reorient(up, detail, out);
    detail.forEach((v, c) => expect(out[c]).toBeCloseTo(v, 12));
  }
});

describe('photometric stereo (Woodham 1980) on rendered spheres', () => {
  const side = 96;
  const lights = [
    { azimuth: 0, elevation: 50 },
    { azimuth: 120, elevation: 50 },
    { azimuth: 240, elevation: 50 },
    { azimuth: 60, elevation: 65 },
  ];
  const wayOf = ({ azimuth, elevation }: (typeof lights)[0]) => {
    const [a, e] = [(azimuth * Math.PI) / 180, (elevation * Math.PI) / 180];
    return [Math.cos(e) * Math.cos(a), Math.cos(e) * Math.sin(a), Math.sin(e)];
  };
  const encoded = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  const albedo = [0.62, 0.4, 0.2];
  const sphere = (x: number, y: number) => {
    const [u, v] = [(x + 0.5 - 48) / 40, (48 - y - 0.5) / 40];
    const flat = u * u + v * v;
    return flat < 0.6 ? [u, v, Math.sqrt(1 - flat)] : null;
  };
  const lit = lights.map((light) => {
    const way = wayOf(light);
    const data = new Uint8Array(4 * side * side);
    for (let y = 0, i = 0; y < side; y++) {
      for (let x = 0; x < side; x++, i++) {
        const n = sphere(x, y) ?? [0, 0, 1];
        const shade = Math.max(0, n[0] * way[0] + n[1] * way[1] + n[2] * way[2]);
        albedo.forEach((rho, c) => (data[4 * i + c] = Math.round(255 * encoded(rho * shade))));
        data[4 * i + 3] = 255;
      }
    }
    return { ...light, picture: makePicture(side, side, data) };
  });

  test.each([3, 4])('%i lights: normals within a degree, the albedo within 1 of 255', (count) => {
    const out = { normals: new Uint16Array(3 * side * side), albedo: new Uint8Array(4 * side * side) };
    photometricStereo(lit.slice(0, count), host, out);
    let [sum, texels, away] = [0, 0, 0];
    for (let y = 0, i = 0; y < side; y++) {
      for (let x = 0; x < side; x++, i++) {
        const n = sphere(x, y);
        if (!n) continue;
        sum += degrees(normalAt(out.normals, i), n);
        texels++;
        albedo.forEach((rho, c) => (away += Math.abs(out.albedo[4 * i + c] - 255 * encoded(rho)) / 3));
      }
    }
    expect(sum / texels).toBeLessThan(0.5); // 8 bits of light
    expect(away / texels).toBeLessThan(1);
  });

  test('lights in one plane are refused', () => {
    const flat = lit.slice(0, 3).map((l, k) => ({ ...l, azimuth: 0, elevation: 30 + 20 * k }));
    const out = { normals: new Uint16Array(3 * side * side), albedo: new Uint8Array(4 * side * side) };
    expect(() => photometricStereo(flat, host, out)).toThrow('one plane');
  });
});

describe('open sky against the integral of the cosine over the visible hemisphere', () => {
  const side = 129;
  const all = makeMask(side, side, new Uint8Array(side * side).fill(255));
  const skyAt = (heights: ReturnType<typeof field>, mask: Mask, rise: number, reach: number, x: number) =>
    openSky(heights, mask, rise, reach, host)[64 * side + x] / 65535;

  test.each([6, 12, 24])('beside a long wall, %i texels away: (1 + d / √(d² + h²)) / 2', (d) => {
    const wall = field(side, (x) => (x >= 64 ? 1 : 0));
    const h = 12;
    const exact = (1 + d / Math.sqrt(d * d + h * h)) / 2;
    expect(Math.abs(skyAt(wall, all, h, Infinity, 64 - d) - exact)).toBeLessThan(0.015);
    expect(skyAt(wall, all, h, Infinity, 90)).toBe(1);
  });

  test('in the middle of a round pit: R² / (R² + h²)', () => {
    const pit = field(side, (x, y) => (Math.hypot(x - 64, y - 64) < 20 ? 0 : 1));
    const radius = 20.5; // the wall's texels begin 20 to 21 away
    const exact = radius ** 2 / (radius ** 2 + 15 ** 2);
    expect(Math.abs(skyAt(pit, all, 15, Infinity, 64) - exact)).toBeLessThan(0.02);
  });

  test('what is cut out is air, and what is beyond reach does not darken', () => {
    const wall = field(side, (x) => (x >= 64 ? 1 : 0));
    const cut = makeMask(
      side,
      side,
      all.data.map((v, i) => (i % side >= 64 ? 0 : v)),
    );
    expect(skyAt(wall, cut, 12, Infinity, 60)).toBe(1);
    expect(skyAt(wall, all, 12, 10, 50)).toBe(1);
    expect(skyAt(wall, all, 12, 10, 60)).toBeGreaterThan(skyAt(wall, all, 12, Infinity, 60));
  });

  const waves = (x: number, y: number) => 0.5 + 0.3 * Math.sin(x / 8) * Math.cos(y / 11);
  const next = random(3);
  const lattice = Array.from({ length: 34 * 34 }, () => next());
  const grains = Array.from({ length: 128 * 128 }, () => next());
  const bumps = (x: number, y: number) => {
    const [u, v] = [x >> 2, y >> 2];
    const [a, b] = [(x & 3) / 4, (y & 3) / 4];
    const at = (k: number, m: number) => lattice[(v + m) * 34 + u + k];
    return (at(0, 0) * (1 - a) + at(1, 0) * a) * (1 - b) + (at(0, 1) * (1 - a) + at(1, 1) * a) * b;
  };
  test.each<[string, number, (x: number, y: number) => number]>([
    ['a cliff of 41 texels', 41, (x) => (x >= 64 ? 1 : 0)],
    ['a slot', 12, (x) => (Math.abs(x - 64) < 4 ? 0 : 1)],
    ['a pit', 15, (x, y) => (Math.hypot(x - 64, y - 64) < 20 ? 0 : 1)],
    ['a small pit', 15, (x, y) => (Math.hypot(x - 64, y - 64) < 5 ? 0 : 1)],
    ['waves', 20, waves],
    ['bumps of 4 texels', 8, bumps],
    ['a cliff at 37°', 41, (x, y) => (0.8 * (x - 64) + 0.6 * (y - 64) > 0 ? 1 : 0)],
    ['a cliff at 45°', 41, (x, y) => (x + y >= 128 ? 1 : 0)],
    ['a slot at 83°', 40, (x, y) => (Math.abs(0.122 * (x - 64) + 0.993 * (y - 64)) < 4 ? 0 : 1)],
    ['a slot at 37°', 40, (x, y) => (Math.abs(0.8 * (x - 64) + 0.6 * (y - 64)) < 1.5 ? 0 : 1)],
    ['white noise', 8, (x, y) => grains[y * 128 + x]],
    ['a cone', 30, (x, y) => Math.max(0, 1 - Math.hypot(x - 64, y - 64) / 30)],
  ])('beside brute force: %s, within 0.01 in the mean and 0.05 at worst', (_name, rise, at) => {
    const heights = field(side, at);
    const got = openSky(heights, all, rise, Infinity, host);
    const off: number[] = [];
    for (let x = 1; x < side - 1; x += x > 48 && x < 80 ? 1 : 5) {
      for (const y of [3, 52, 61, 64]) off.push(Math.abs(got[y * side + x] / 65535 - skySeen(heights, rise, x, y)));
    }
    expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.01);
    expect(Math.max(...off)).toBeLessThan(0.05);
  });

  test('odd sides and the smallest ones; every side sees the same', () => {
    for (const [width, height] of [[1, 1], [1, 9], [3, 2], [37, 61]] as const) {
      const data = Uint16Array.from({ length: width * height }, (_, i) => 257 * ((i * 89) % 256));
      const mask = makeMask(width, height, new Uint8Array(width * height).fill(255));
      const own = openSky({ width, height, channels: 1, data }, mask, 9, 20, host);
      const turned = openSky({ width, height, channels: 1, data: data.slice().reverse() }, mask, 9, 20, host);
      const away = turned.reverse().map((v, i) => Math.abs(v - own[i]));
      // cells of 2 × 2 begin at another texel where a side is odd
      expect(Math.max(...away)).toBeLessThan(width % 2 === 0 && height % 2 === 0 ? 2 : 2500);
    }
  }); // prettier-ignore

  test('a run of an earlier version keeps its texels', () => {
    const maps = new Map([['height', field(64, waves)] as const]);
    const state = { ...stateOf(noisePicture(1, 64, 64)), maps };
    const of = (version: number) =>
      after('occlusion', state, { depth: 20 }, { ...env(), version }).maps.get('occlusion')!;
    expect(fingerprint(of(1))).toBe('c74ae19e169f7186'); // computed before there was a second
    expect(fingerprint(of(2))).toBe('5bcd009b3c2f4302'); // computed before there was a third
    expect(fingerprint(of(3))).not.toBe(fingerprint(of(2)));
  });
});

/** Sky over a height field by brute force: 360 directions, every half texel, between the texels by straight lines. */
function skySeen({ width, height, data }: Heights, rise: number, px: number, py: number): number {
  const own = data[py * width + px];
  let hidden = 0;
  for (let k = 0; k < 360; k++) {
    const [c, s] = [Math.cos(((k + 0.37) * Math.PI) / 180), Math.sin(((k + 0.37) * Math.PI) / 180)];
    let best = 0;
    for (let t = 1; ; t += 0.5) {
      const [x, y] = [px + c * t, py + s * t];
      if (x < 0 || y < 0 || x > width - 1 || y > height - 1) break;
      const [i, j] = [Math.min(width - 2, Math.floor(x)), Math.min(height - 2, Math.floor(y))];
      const [a, b] = [x - i, y - j];
      const o = j * width + i;
      const upper = data[o] * (1 - a) + data[o + 1] * a;
      const lower = data[o + width] * (1 - a) + data[o + width + 1] * a;
      best = Math.max(best, (upper * (1 - b) + lower * b - own) / t);
    }
    const slope = (best * rise) / 65535;
    hidden += (slope * slope) / (1 + slope * slope) / 360;
  }
  return 1 - hidden;
}

describe('how deep and how thick a part is', () => {
  const side = 96;
  /** A bar of 12 texels and a disc of 40, with soft edges. */
  const data = new Uint8Array(side * side);
  for (let y = 0, i = 0; y < side; y++) {
    for (let x = 0; x < side; x++, i++) {
      const bar = 6 - Math.abs(x + 0.5 - 20);
      const disc = 20 - Math.hypot(x + 0.5 - 66, y + 0.5 - 48);
      data[i] = Math.round(255 * Math.min(1, Math.max(0, Math.max(bar, disc) + 0.5)));
    }
  }
  const mask = makeMask(side, side, data);

  test('depth is the distance to the edge', () => {
    const depth = depthInside(mask, 100, host);
    for (const x of [16, 20, 24]) expect(depth[48 * side + x]).toBeCloseTo(6 - Math.abs(x + 0.5 - 20), 1);
    expect(depth[48 * side + 66]).toBeCloseTo(20 - Math.hypot(0.5, 0.5), 0);
    expect(depth[48 * side + 40]).toBe(0);
  });

  test('thickness is the width of the part, at its rim too', () => {
    const wide = localThickness(mask, 100, host);
    for (const x of [15, 20, 25]) expect(Math.abs(wide[48 * side + x] - 12)).toBeLessThan(1);
    for (const x of [48, 56, 66, 84]) expect(Math.abs(wide[48 * side + x] - 40)).toBeLessThan(2.5);
    expect(wide[48 * side + 40]).toBe(0);
    expect(localThickness(mask, 30, host)[48 * side + 66]).toBe(30);
  });
});
