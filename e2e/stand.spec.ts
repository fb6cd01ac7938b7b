import { expect } from '@playwright/test';
import { SphericalHarmonics3, Vector3 } from 'three';
import {
  cardSurface,
  harmonicsOf,
  planckian,
  rgbOf,
  seenCoverage,
  SKY_LIGHTS,
  sunWay,
  surroundings,
} from '@lithe-sieve/core';
import { openCanvas } from './draw-worker.ts';
import { FIELD_OF_VIEW, HEIGHT, linear, lit, ON_CANVAS, pictureOf, placed, WIDTH } from './drawn-views.ts';
import { test } from './test.ts';

// radiances by glTF 2.0 Appendix B
test('the Stand lights normals, roughness, specular and metalness as glTF has them, occlusion and translucency too', async ({
  page,
}) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { mask } = pictureOf(64, 64);
  const plain = <T extends Uint8Array | Uint16Array>(data: T, channels: 1 | 3 | 4) => ({
    width: 64,
    height: 64,
    channels,
    data,
  });
  const values = (v: number) => plain(new Uint8Array(4096).fill(v), 1);
  const leaning = (x: number, y: number) => {
    const [z, one] = [Math.sqrt(1 - x * x - y * y), new Uint16Array(3 * 4096)];
    for (let i = 0; i < 4096; i++)
      one.set(
        [x, y, z].map((v) => Math.round(32767.5 + 32767.5 * v)),
        3 * i,
      );
    return plain(one, 3);
  };
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh);
  await canvas.setMap('colour', plain(new Uint8Array(4 * 4096).fill(150), 4));
  await canvas.setMap('mask', values(255));
  let open = 0;
  /** Mean of the middle of the card, in linear light. */
  const seen = async (azimuth = 0, more?: object) => {
    await canvas.show({ ...ON_CANVAS, views: [lit({ camera: { azimuth }, ...more })] });
    await canvas.setMap('occlusion', values(open)); // what is drawn with it is drawn of the view that was just asked for
    const pixels = await canvas.pixels(true);
    let sum = 0;
    for (let y = -6; y < 6; y++)
      for (let x = -6; x < 6; x++) {
        const v = pixels[4 * ((HEIGHT / 2 + y) * WIDTH + WIDTH / 2 + x)] / 255;
        sum += (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4) / 144;
      }
    return sum;
  };
  /** The sun's part alone: what comes from around is diffuse, and none of it where nothing is open to the sky. */
  const near = async (what: string, n: Vec, of: Shaded, more = 0) => {
    const off = (await seen()) / fromSun(n, of) - 1;
    expect([what, off > -0.017, off < 0.015 + more]).toEqual([what, true, true]);
  };
  const surface: Shaded = { albedo: linear(150), rough: 0.75, metal: 0, f0: 0.04 };
  await near('plain', [0, 0, 1], surface);
  for (const way of [
    [-0.6, 0],
    [0.6, 0],
    [0, 0.6],
    [0, -0.3],
  ] as const) {
    await canvas.setMap('normal', leaning(way[0], way[1]));
    // where the sun grazes, what is mirrored more than once counts, which Appendix B leaves out
    await near(
      `normal ${way.join()}`,
      [...way, Math.sqrt(1 - way[0] ** 2 - way[1] ** 2)],
      surface,
      way[0] > 0 ? 0.03 : 0,
    );
  }
  await canvas.setMap('normal', leaning(0, 0));
  await canvas.setMap('roughness', values(128));
  await near('roughness', [0, 0, 1], { ...surface, rough: 128 / 255 });
  for (const [value, f0] of [
    [255, 0.08],
    [0, 0],
  ] as const) {
    await canvas.setMap('specular', values(value));
    await near(`specular ${value}`, [0, 0, 1], { ...surface, rough: 128 / 255, f0 });
  }
  await canvas.setMap('metalness', values(255));
  await near('metalness', [0, 0, 1], { ...surface, rough: 128 / 255, metal: 1 }, 0.03); // and on bare metal
  await canvas.setMap('metalness', values(0));

  // under a sky alone, where nothing is mirrored: a Lambert surface, and Khronos PBR Neutral as its specification has it
  await canvas.setMap('specular', values(0));
  await canvas.setMap('roughness', values(255));
  open = 255;
  const sky = SKY_LIGHTS.overcast;
  const harmonics = new SphericalHarmonics3().set(
    harmonicsOf(surroundings('overcast', sky, [0.3, 0.27, 0.22])).map((c) => new Vector3(...c)),
  );
  const facing = harmonics.getIrradianceAt(new Vector3(0, 0, 1), new Vector3()).multiplyScalar(linear(150) / Math.PI);
  for (const [tone, exposure] of [['none', 0], ['none', -1], ['neutral', 0.5], ['neutral', 2]] as const) {
    const light = { ...sky, strength: 0, tone, exposure };
    const found = await seen(0, { environment: 'overcast', light });
    const [red] = (tone === 'none' ? (c: number[]) => c.map((v) => Math.min(1, v)) : pbrNeutral)(facing.toArray().map((v) => v * 2 ** exposure));
    expect([tone, exposure, Math.abs(found - red) < 0.01 * red + 0.003]).toEqual([tone, exposure, true]);
  } // prettier-ignore
  await canvas.setMap('roughness', values(128));
  await canvas.setMap('specular', values(128));

  open = 0;
  const dark = await seen();
  open = 255;
  const [front, back] = [await seen(), await seen(Math.PI)];
  expect(front).toBeGreaterThan(dark * 1.05); // the sky is more
  await canvas.setMap('translucency', values(255));
  expect(await seen(Math.PI)).toBeGreaterThan(back * 1.5); // the sun shines through
  expect(await seen()).toBeLessThan(front * 0.8); // and what goes through does not come back
  open = 0;
  // what comes through is what arrives on the other side: the sun's, and half each of what is above and below
  const around = 0.55 * ((linear(0xe8) + linear(0x9a)) / 2);
  const arrives = ((SUN_LIGHT * SUN[2] + around) * linear(150)) / Math.PI;
  expect((await seen(Math.PI)) / arrives).toBeCloseTo(1, 1);
  expect(await seen(Math.PI)).toBeLessThan(1.01 * arrives);

  // a back under the light turned with it is lit as the front, but for the rounding of two pictures
  const light = { ...SKY_LIGHTS.clear, tone: 'none', exposure: 0 } as const;
  await canvas.setMap('translucency', values(60));
  const mirrored = await seen(Math.PI, { environment: 'clear', light: { ...light, turn: 180 + light.turn } });
  expect(Math.abs(mirrored - (await seen(0, { environment: 'clear', light })))).toBeLessThan(0.004);
});

test('the shadow of a card that drops its left half covers half of what the whole one does; a texel read by the nearest shows whole', async ({
  page,
}) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { mask } = pictureOf(64, 64);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh);
  await canvas.setMap('colour', { width: 64, height: 64, channels: 4, data: new Uint8Array(16384).fill(255) });
  const camera = { elevation: 1.5, distance: 4, middle: [0, 0, 0.5] };
  // from behind: its shadow falls where none of the things behind it stands
  const light = { ...SKY_LIGHTS.clear, height: 40, turn: 180, tone: 'none' };
  const from = async (kept: (x: number) => boolean) => {
    await canvas.show({ ...ON_CANVAS, views: [lit({ camera, light })] });
    await canvas.setMap('mask', { ...mask, data: mask.data.map((_, i) => (kept(i & 63) ? 255 : 0)) });
    return canvas.pixels(true);
  };
  const [none, half, whole] = [await from(() => false), await from((x) => x >= 32), await from(() => true)];
  const darker = (shown: Uint8Array) => shown.filter((v, i) => i % 4 === 1 && v < none[i] - 20).length;
  expect(darker(whole)).toBeGreaterThan(1000);
  expect(darker(half) / darker(whole)).toBeCloseTo(0.5, 1);

  // read by the nearest texel, two pixels a texel: each shows whole, as its own alpha says
  const { mask: soft } = pictureOf(64, 64);
  const distance = HEIGHT / 128 / (2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
  const near = async (data: Uint8Array) => {
    await canvas.show({ ...ON_CANVAS, views: [lit({ camera: { distance }, filter: 'nearest' })] });
    await canvas.setMap('mask', { ...mask, data });
    return new Uint32Array((await canvas.pixels(true)).buffer);
  };
  const [full, cut] = [await near(new Uint8Array(4096).fill(255)), await near(soft.data)];
  let wrong = 0;
  for (let y = 0; y < 128; y++)
    for (let x = 0; x < 128; x++) {
      const i = (y + (HEIGHT - 128) / 2) * WIDTH + x + (WIDTH - 128) / 2;
      if ((cut[i] === full[i]) !== soft.data[(y >> 1) * 64 + (x >> 1)] > 127) wrong++;
    }
  expect(wrong).toBe(0);
});

/** Khronos PBR Neutral Tone Mapper, specification of 2024. */
function pbrNeutral(given: number[]): number[] {
  const [start, desaturation] = [0.8 - 0.04, 0.15];
  const least = Math.min(...given);
  const offset = least < 0.08 ? least - 6.25 * least * least : 0.04;
  const colour = given.map((v) => v - offset);
  const peak = Math.max(...colour);
  if (peak < start) return colour;
  const d = 1 - start;
  const made = 1 - (d * d) / (peak + d - start);
  const g = 1 - 1 / (desaturation * (peak - made) + 1);
  return colour.map((v) => ((v * made) / peak) * (1 - g) + made * g);
}

type Vec = readonly [number, number, number];
interface Shaded {
  albedo: number;
  rough: number;
  metal: number;
  /** Reflectance head on, of what is no metal. */
  f0: number;
}
const SUN: Vec = sunWay(38, -36);
/** At strength 1, of a colour as bright as white; red alone is looked at. */
const SUN_LIGHT = 2.6 * rgbOf(1, ...planckian(5200))[0];

/** Radiance towards a camera straight in front, by glTF 2.0 Appendix B: Lambert, GGX, Smith's visibility, Schlick. */
function fromSun(n: Vec, { albedo, rough, metal, f0: dielectric }: Shaded): number {
  const dot = (p: Vec, q: Vec) => p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
  const unit = (p: Vec): Vec => [p[0] / Math.hypot(...p), p[1] / Math.hypot(...p), p[2] / Math.hypot(...p)];
  const [v, l] = [[0, 0, 1] as Vec, unit(SUN)];
  const h = unit([l[0] + v[0], l[1] + v[1], l[2] + v[2]]);
  const [nl, nv, nh, vh] = [dot(n, l), dot(n, v), dot(n, h), dot(v, h)];
  const a2 = rough ** 4;
  const spread = a2 / (Math.PI * (nh * nh * (a2 - 1) + 1) ** 2);
  const seen = 0.5 / (nl * Math.sqrt(nv * nv * (1 - a2) + a2) + nv * Math.sqrt(nl * nl * (1 - a2) + a2));
  const fresnel = (f0: number) => f0 + (1 - f0) * (1 - vh) ** 5;
  const metallic = fresnel(albedo) * spread * seen;
  const mirrored = fresnel(dielectric);
  const plain = (albedo / Math.PI) * (1 - mirrored) + mirrored * spread * seen;
  return SUN_LIGHT * nl * (metal * metallic + (1 - metal) * plain);
}

test('at rest, as seen: each pixel of a card far away has the share that level 0 keeps there', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { mask } = pictureOf(128, 128);
  // far above the ground, on which its shadow would change what is behind
  const { mesh } = cardSurface({ cardWidth: 1 }, mask);
  await canvas.setSurface({ ...mesh, positions: mesh.positions.map((v, i) => (i % 3 === 1 ? v + 10 : v)) });
  await canvas.setMap('colour', { width: 128, height: 128, channels: 4, data: new Uint8Array(65536).fill(255) });
  const [width, height, pixel] = [56, 48, 3];
  const distance = ((pixel / 128) * height) / (2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
  const light = { ...SKY_LIGHTS.clear, tone: 'none', exposure: -0.1 };
  const more = { camera: { distance, middle: [0, 10.5, 0] }, light };
  const seen = async (data: Uint8Array, asSeen: boolean) => {
    await canvas.show({
      ...ON_CANVAS,
      views: [lit({ ...more, asSeen }, placed('lit', { x: 0, y: 0, width, height }))],
    });
    await canvas.setMap('mask', { ...mask, data });
    const all = asSeen ? await canvas.atRest() : await canvas.pixels(true);
    return (x: number, y: number) => linear(all[4 * (y * WIDTH + x)]);
  };
  const card = await seen(new Uint8Array(mask.data.length).fill(255), false);
  const behind = await seen(new Uint8Array(mask.data.length), false);
  const shown = await seen(mask.data, true);
  const grid = { width, height, left: 64 - (width / 2) * pixel, top: 64 - (height / 2) * pixel, pixel };
  const kept = seenCoverage(mask, 127.5, grid);
  const off: number[] = [];
  for (let y = 4; y < height - 4; y++)
    for (let x = 8; x < width - 8; x++) {
      const [one, none] = [card(x, y), behind(x, y)];
      off.push(Math.abs((shown(x, y) - none) / (one - none) - kept[y * width + x]));
    }
  off.sort((a, b) => a - b);
  // of these, what the screen's 255 steps round is about 1 at the bright end
  const mean = off.reduce((sum, v) => sum + v) / off.length;
  expect(255 * mean).toBeLessThan(0.75);
  expect(255 * off[Math.floor(0.9 * off.length)]).toBeLessThan(2);
  expect(255 * off.at(-1)!).toBeLessThan(6);
});

test('at rest again after a picture from afar, the view is what it was before it', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(64, 64);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh);
  await canvas.setMap('colour', colour);
  await canvas.setMap('mask', mask);
  const view = lit({ environment: 'clear', atRest: 16 }, placed('lit', { x: 0, y: 0, width: 96, height: 72 }));
  await canvas.show({ ...ON_CANVAS, views: [view] });
  const before = await canvas.atRest();
  await canvas.far({ ...view, camera: { ...view.camera, distance: 9 } });
  const after = await canvas.atRest();
  // what gives off light by itself does so once, however many pictures are summed up
  const black = { ...colour, data: colour.data.map((_, i) => (i % 4 === 3 ? 255 : 0)) };
  await canvas.setMap('colour', black);
  await canvas.setMap('emission', { ...colour, data: new Uint8Array(colour.data.length).fill(120) });
  await canvas.setMap('mask', { ...mask, data: new Uint8Array(mask.data.length).fill(255) });
  const lit1 = { ...view, light: { ...SKY_LIGHTS.clear, strength: 0 } };
  const moving = { ...lit1, atRest: 0 };
  await canvas.show({ ...ON_CANVAS, views: [moving] });
  const middle = 4 * (36 * WIDTH + 48);
  const once = (await canvas.pixels())[middle];
  await canvas.show({ ...ON_CANVAS, views: [lit1] });
  expect(Math.abs((await canvas.atRest())[middle] - once)).toBeLessThan(6); // less sky is mirrored there
  expect(before.reduce((most, v, i) => Math.max(most, Math.abs(v - after[i])), 0)).toBeLessThanOrEqual(1);
});

test('blend: a near card that is drawn first hides the far one, lies under it, or over it once they are sorted', async ({
  page,
}) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { mesh } = cardSurface({ cardWidth: 1 }, { width: 64, height: 64 });
  const both = <T>(values: ArrayLike<number>, make: (all: number[]) => T, of: (v: number, i: number, k: number) => number) =>
    make([0, 1].flatMap((k) => Array.from(values, (v, i) => of(v, i, k)))); // prettier-ignore
  // the near one shows the left half of the picture, the far one the right
  await canvas.setSurface({
    positions: both(
      mesh.positions,
      (all) => Float32Array.from(all),
      (v, i, k) => (i % 3 === 2 ? v - 0.1 * k : v),
    ),
    normals: both(
      mesh.normals,
      (all) => Float32Array.from(all),
      (v) => v,
    ),
    uvs: both(
      mesh.uvs,
      (all) => Float32Array.from(all),
      (v, i, k) => (i % 2 === 0 ? (v + k) / 2 : v),
    ),
    indices: both(
      mesh.indices,
      (all) => Uint16Array.from(all),
      (v, _, k) => v + (k * mesh.positions.length) / 3,
    ),
  });
  const colour = new Uint8Array(16384);
  for (let i = 0; i < 4096; i++) colour.set(i % 64 < 32 ? [220, 0, 0, 255] : [0, 220, 0, 255], 4 * i);
  await canvas.setMap('colour', { width: 64, height: 64, channels: 4, data: colour });
  await canvas.setMaterial({ mode: 'blend', cutoff: 0.5, opacity: 1, doubleSided: true });
  const light = { ...SKY_LIGHTS.clear, strength: 0, exposure: 2, tone: 'none' }; // the near one would shade the far one
  const seen = async (blendOrder: string) => {
    await canvas.show({ ...ON_CANVAS, views: [lit({ blendOrder, light })] });
    await canvas.setMap('mask', { width: 64, height: 64, channels: 1, data: new Uint8Array(4096).fill(128) });
    const at = 4 * ((HEIGHT / 2) * WIDTH + WIDTH / 2);
    return [...(await canvas.pixels(true)).subarray(at, at + 2)].map((v) => linear(v));
  };
  const [near, none] = await seen('depth');
  expect(near / none).toBeGreaterThan(2.5); // half of red, and no green but what is behind both
  const [under, over] = await seen('mesh');
  expect(over / under).toBeCloseTo(2, 0); // a half of green over a half of red: 1/2 and 1/4
  const [first, second] = await seen('triangles');
  expect(first / second).toBeCloseTo(2, 0);
});
