import { expect } from '@playwright/test';
import {
  cardSurface,
  CLIP_DRAWINGS,
  drawClip,
  mapMips,
  type ClipDrawing,
  type Mask,
  type Picture,
} from '@lithe-sieve/core';
import { bentStrip } from '../packages/core/test/helpers/bent.ts';
import { openCanvas } from './draw-worker.ts';
import { test } from './test.ts';

const [WIDTH, HEIGHT] = [256, 192];
const NOWHERE = { x: 0, y: 0, width: 0, height: 0 };
const ALL = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
const LINEN = ['215,208,193', '192,184,165'];
const MATERIAL = { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: true };

/** Colours all over, and a mask of soft blobs of many sizes with plain texels between. */
function pictureOf(width: number, height: number): { colour: Picture; mask: Mask } {
  const colour = new Uint8Array(4 * width * height);
  const mask = new Uint8Array(width * height);
  for (let i = 0; i < mask.length; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    colour.set([(x * 7 + y) & 255, (y * 5 + x * x) & 255, (x * y) & 255, 255], 4 * i);
    const wave = Math.sin(x / 9) * Math.sin(y / 13) + 0.4 * Math.sin(x * 0.9 + y * 0.7);
    mask[i] = Math.min(255, Math.max(0, 128 + 400 * wave));
  }
  return {
    colour: { width, height, channels: 4, data: colour },
    mask: { width, height, channels: 1, data: mask },
  };
}

function scenery(more: object): object {
  return {
    canvas: { width: WIDTH, height: HEIGHT },
    pixelRatio: 1,
    views: { sheet: NOWHERE, stand: NOWHERE },
    sheet: { centre: { x: WIDTH / 2, y: HEIGHT / 2 }, zoom: 1, picture: { width: WIDTH, height: HEIGHT } },
    stand: { azimuth: 0, elevation: 0, distance: 2, middle: [0, 0.5, 0] },
    sheetMode: 'kept',
    mapLook: 'whole',
    beneath: false,
    softMarked: true,
    material: MATERIAL,
    drawn: { by: 'hard', samples: 4 },
    backdrop: 'dark',
    ...more,
  };
}

test('the Sheet at 1:1 shows the texels that core has: picture, mask, kept, fringe', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(WIDTH, HEIGHT);
  await canvas.setMap('colour', colour);
  await canvas.setMap('mask', mask);
  const shown = async (sheetMode: string, cutoff = 0.5) => {
    const material = { ...MATERIAL, cutoff };
    await canvas.show(scenery({ views: { sheet: ALL, stand: NOWHERE }, sheetMode, material }));
    return canvas.pixels();
  };
  const rgb = (pixels: Uint8Array, i: number) => [...pixels.subarray(4 * i, 4 * i + 3)].join();
  const wrong = (pixels: Uint8Array, isRight: (i: number) => boolean) =>
    mask.data.reduce((count, _, i) => count + (isRight(i) ? 0 : 1), 0) + (pixels.length === colour.data.length ? 0 : 1);

  const picture = await shown('colour');
  expect(wrong(picture, (i) => rgb(picture, i) === rgb(colour.data, i))).toBe(0);
  const grey = await shown('mask');
  expect(wrong(grey, (i) => rgb(grey, i) === [mask.data[i], mask.data[i], mask.data[i]].join())).toBe(0);

  const linen = LINEN;
  const isPartly = (i: number) => mask.data[i] > 0.02 * 255 && mask.data[i] < 0.98 * 255;
  for (const cutoff of [0.3, 0.72]) {
    const kept = await shown('kept', cutoff);
    expect(
      wrong(kept, (i) => {
        if (mask.data[i] / 255 >= cutoff) return rgb(kept, i) === rgb(colour.data, i);
        return isPartly(i) ? !linen.includes(rgb(kept, i)) : linen.includes(rgb(kept, i));
      }),
    ).toBe(0);
    const fringe = await shown('fringe', cutoff);
    expect(
      wrong(fringe, (i) => {
        const [r, g, b] = fringe.subarray(4 * i, 4 * i + 3);
        if (isPartly(i)) return r > g && g > b; // amber over what lies there
        return mask.data[i] / 255 >= cutoff ? r === g && g === b : linen.includes(rgb(fringe, i));
      }),
    ).toBe(0);
  }
});

test('the Sheet at 1:1 shows a map whole, cut by the mask, and over the colour', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(WIDTH, HEIGHT);
  const normal = new Uint16Array(3 * mask.data.length).map((_, i) => (i * 7919) & 0xffff);
  const rough = new Uint8Array(mask.data.length).map((_, i) => (i * 31) & 255);
  await canvas.setMap('colour', colour);
  await canvas.setMap('mask', mask);
  await canvas.setMap('normal', { ...mask, channels: 3, data: normal });
  await canvas.setMap('roughness', { ...mask, data: rough });
  const shown = async (sheetMode: string, mapLook: string) => {
    await canvas.show(scenery({ views: { sheet: ALL, stand: NOWHERE }, sheetMode, mapLook }));
    return canvas.pixels();
  };
  const directions = await shown('normal', 'whole');
  const whole = await shown('roughness', 'whole');
  const cut = await shown('roughness', 'cut');
  const over = await shown('roughness', 'over colour');
  let wrong = 0;
  for (let i = 0; i < rough.length; i++) {
    const kept = mask.data[i] >= 128;
    for (let c = 0; c < 3; c++) {
      const near = (v: number, wanted: number) => Math.abs(v - wanted) <= 1;
      if (!near(directions[4 * i + c], (normal[3 * i + c] * 255) / 65535)) wrong++;
      if (whole[4 * i + c] !== rough[i]) wrong++;
      if (
        kept &&
        (cut[4 * i + c] !== rough[i] || !near(over[4 * i + c], 0.4 * colour.data[4 * i + c] + 0.6 * rough[i]))
      )
        wrong++;
    }
    if (!kept && !LINEN.includes(cut.subarray(4 * i, 4 * i + 3).join())) wrong++;
  }
  expect(wrong).toBe(0);
});

test('the Stand lights normals, occlusion, roughness and translucency as glTF has them', async ({ page }) => {
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
  /** Mean of the middle of the card, in linear light. */
  const seen = async (azimuth = 0) => {
    const stand = { azimuth, elevation: 0, distance: 2, middle: [0, 0.5, 0] };
    await canvas.show(scenery({ views: { sheet: NOWHERE, stand: ALL }, stand }));
    const pixels = await canvas.pixels();
    let sum = 0;
    for (let y = -6; y < 6; y++)
      for (let x = -6; x < 6; x++) {
        const v = pixels[4 * ((HEIGHT / 2 + y) * WIDTH + WIDTH / 2 + x)] / 255;
        sum += (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4) / 144;
      }
    return sum;
  };
  const without = await seen();
  const by: Record<string, number> = {};
  for (const [name, x, y] of [
    ['left', -0.6, 0],
    ['right', 0.6, 0],
    ['up', 0, 0.6],
    ['down', 0, -0.6],
    ['flat', 0, 0],
  ] as const) {
    await canvas.setMap('normal', leaning(x, y));
    by[name] = await seen();
  }
  expect(Math.abs(by['flat'] / without - 1)).toBeLessThan(0.03);
  expect(by['left']).toBeGreaterThan(by['right'] * 1.2); // the sun stands to the left and above
  expect(by['up']).toBeGreaterThan(by['down'] * 1.2);
  await canvas.setMap('occlusion', values(0));
  expect(await seen()).toBeLessThan(by['flat'] * 0.95); // no sky: the sun alone is left
  await canvas.setMap('occlusion', values(255));
  const [front, back] = [await seen(), await seen(Math.PI)];
  await canvas.setMap('translucency', values(255));
  expect(await seen(Math.PI)).toBeGreaterThan(back * 1.5); // the sun shines through
  expect(await seen()).toBeLessThan(front * 0.8); // and what goes through does not come back
});

/** Of the camera of the Stand, degrees from top to bottom. */
const FIELD_OF_VIEW = 34;

test('the Stand clips what core’s mip levels say, one texel of a level on one pixel', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(512, 512);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh);
  await canvas.setMap('colour', colour);
  const levels = [mask, ...mapMips('mask', mask)];
  for (const level of [2, 3, 4]) {
    const side = 512 >> level;
    const distance = HEIGHT / side / (2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
    const stand = { azimuth: 0, elevation: 0, distance, middle: [0, 0.5, 0] };
    const shown = async (data: Uint8Array, cutoff = 0.5) => {
      // the map last: the Stand that is drawn with it has this cutoff
      await canvas.show(scenery({ views: { sheet: NOWHERE, stand: ALL }, stand, material: { ...MATERIAL, cutoff } }));
      await canvas.setMap('mask', { ...mask, data });
      return new Uint32Array((await canvas.pixels(true)).buffer); // the Stand may wait longer on a busy machine
    };
    const whole = await shown(new Uint8Array(mask.data.length).fill(255));
    for (const cutoff of [0.35, 0.6]) {
      const clipped = await shown(mask.data, cutoff);
      let [compared, different, dropped] = [0, 0, 0];
      for (let y = 0; y < side; y++) {
        for (let x = 0; x < side; x++) {
          const alpha = (levels[level].data as Uint8Array)[y * side + x] / 255;
          if (Math.abs(alpha - cutoff) < 0.03) continue; // a driver may mix the next level in by a hair
          const i = (y + (HEIGHT - side) / 2) * WIDTH + x + (WIDTH - side) / 2;
          compared++;
          if (alpha < cutoff) dropped++;
          if ((clipped[i] === whole[i]) !== alpha >= cutoff) different++;
        }
      }
      expect(compared).toBeGreaterThan(0.8 * side * side);
      expect(dropped).toBeGreaterThan(0.2 * side * side);
      expect([level, cutoff, different]).toEqual([level, cutoff, 0]);
    }
  }
});

test('the Stand draws a clip hashed, dithered and by samples as core’s reference pictures', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(512, 512);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh);
  await canvas.setMap('colour', colour);
  // the same in every row: within 2 × 2 pixels a driver may take either row's change for both
  const strips = { ...mask, data: mask.data.map((_, i) => mask.data[100 * 512 + (i % 512)]) };
  const side = 128;
  const distance = HEIGHT / side / (2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
  const stand = { azimuth: 0, elevation: 0, distance, middle: [0, 0.5, 0] };
  const shown = async (data: Uint8Array, drawn: ClipDrawing) => {
    await canvas.show(scenery({ views: { sheet: NOWHERE, stand: ALL }, stand, drawn }));
    await canvas.setMap('mask', { ...mask, data });
    return new Uint32Array((await canvas.pixels(true)).buffer);
  };
  const hard = { by: 'hard', samples: 4 } as const;
  const whole = await shown(
    mask.data.map(() => 255),
    hard,
  );
  for (const by of CLIP_DRAWINGS) {
    const drawn = { by, samples: 4 } as const;
    const subject = by === 'coverage' ? strips : mask;
    const level = [subject, ...mapMips('mask', subject)][2] as Mask;
    const pixels = await shown(subject.data, drawn);
    // a driver may mix the next level in by a hair: what that could turn is not judged
    const [low, wanted, high] = [-8, 0, 8].map((off) => {
      const data = level.data.map((v) => Math.max(0, Math.min(255, v + off)));
      return drawClip(upsideDownFor(by, { ...level, data }), MATERIAL, drawn).data;
    });
    const counts = { judged: 0, partly: 0, wrong: 0 };
    for (let y = 0; y < side; y++) {
      for (let x = 0; x < side; x++) {
        const at = (by === 'ordered' ? side - 1 - y : y) * side + x;
        if (low[at] !== high[at]) continue;
        counts.judged++;
        if (wanted[at] > 0 && wanted[at] < 255) counts.partly++;
        const i = (y + (HEIGHT - side) / 2) * WIDTH + x + (WIDTH - side) / 2;
        if ((pixels[i] === whole[i]) !== (wanted[at] === 255)) counts.wrong++; // behind the rest is sky, ground or shadow
      }
    }
    expect([by, counts.wrong, counts.judged > 0.6 * side * side]).toEqual([by, 0, true]);
    expect(counts.partly > 0).toBe(by === 'coverage');
  }
});

/** The screen counts its rows from below, which a pattern of the screen shows. */
function upsideDownFor(by: ClipDrawing['by'], { width, height, data }: Mask): Mask {
  if (by !== 'ordered') return { width, height, channels: 1, data };
  const rows = Array.from({ length: height }, (_, y) => data.subarray((height - 1 - y) * width, (height - y) * width));
  return { width, height, channels: 1, data: Uint8Array.from(rows.flatMap((row) => [...row])) };
}

test('a part of a bent card and its shadow, drawn alone, is what the whole would be', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(256, 192);
  await canvas.setSurface(bentStrip(1, 0.75).mesh);
  await canvas.setMap('colour', colour);
  for (const [azimuth, elevation, distance] of [
    [0.3, 0.3, 1.9],
    [2.6, 0.5, 1.5],
    [-1.2, 0.9, 2.4],
    [0.9, 0.1, 0.9],
  ]) {
    const stand = { azimuth, elevation, distance, middle: [0, 0.375, -0.1] };
    const data = mask.data.slice();
    await canvas.setMap('mask', { ...mask, data });
    await canvas.show(scenery({ views: { sheet: NOWHERE, stand: ALL }, stand, backdrop: 'pale' }));
    const before = await canvas.pixels();
    const box = { x0: 150, y0: 40, x1: 214, y1: 104 };
    for (let y = box.y0; y < box.y1; y++) data.fill((y >> 3) % 2 ? 255 : 0, y * 256 + box.x0, y * 256 + box.x1);
    await canvas.setMap('mask', { ...mask, data }, [box]);
    const part = Buffer.from(await canvas.pixels());
    expect(part.equals(before)).toBe(false);
    await canvas.show(scenery({ views: { sheet: NOWHERE, stand: ALL }, stand, backdrop: 'pale' }));
    expect(part.equals(await canvas.pixels())).toBe(true);
  }
});
