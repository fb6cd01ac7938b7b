import { expect } from '@playwright/test';
import {
  cardSurface,
  CLIP_DRAWINGS,
  drawClip,
  mapMips,
  SKY_LIGHTS,
  type ClipDrawing,
  type Mask,
  type Wrap,
} from '@lithe-sieve/core';
import { bentStrip } from '../packages/core/test/helpers/bent.ts';
import { openCanvas, PIECE } from './draw-worker.ts';
import {
  FIELD_OF_VIEW,
  flat,
  HEIGHT,
  linear,
  LINEN,
  lit,
  MATERIAL,
  ON_CANVAS,
  pictureOf,
  placed,
  WIDTH,
} from './drawn-views.ts';
import { test } from './test.ts';

test('the Sheet at 1:1 shows the texels that core has: picture, mask, kept, fringe', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(WIDTH, HEIGHT);
  await canvas.setMap('colour', colour);
  await canvas.setMap('mask', mask);
  const shown = async (mode: string, cutoff = 0.5) => {
    await canvas.setMaterial({ ...MATERIAL, cutoff });
    await canvas.show({ ...ON_CANVAS, views: [flat({ mode })] });
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
  const shown = async (mode: string, mapLook: string) => {
    await canvas.show({ ...ON_CANVAS, views: [flat({ mode, mapLook })] });
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

/** Of mip levels 2 to 4, as the legend of the view shows them; linear. */
const TINTS: Record<number, number[]> = { 2: [0.1, 0.7, 0.35], 3: [0.9, 0.75, 0.1], 4: [0.9, 0.35, 0.05] };

test('the Stand clips what core’s mip levels say, one texel of a level on one pixel', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(512, 512);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh);
  await canvas.setMap('colour', colour);
  const levels = [mask, ...mapMips('mask', mask)];
  for (const level of [2, 3, 4]) {
    const side = 512 >> level;
    const distance = HEIGHT / side / (2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
    const shown = async (data: Uint8Array, cutoff = 0.5) => {
      // the map last: the view that is drawn with it has this cutoff
      await canvas.setMaterial({ ...MATERIAL, cutoff });
      await canvas.show({ ...ON_CANVAS, views: [lit({ camera: { distance } })] });
      await canvas.setMap('mask', { ...mask, data });
      return new Uint32Array((await canvas.pixels(true)).buffer); // the Stand may wait longer on a busy machine
    };
    const whole = await shown(new Uint8Array(mask.data.length).fill(255));
    // the level that is read has its tint, which no light changes
    const light = { ...SKY_LIGHTS.clear, tone: 'none', exposure: 1 };
    await canvas.show({
      ...ON_CANVAS,
      views: [lit({ camera: { distance }, environment: 'clear', light, overlay: 'levels' })],
    });
    await canvas.setMap('mask', { ...mask, data: mask.data.map(() => 255) });
    const at = 4 * ((HEIGHT / 2 + 3) * WIDTH + WIDTH / 2 + 3);
    const tint = [...(await canvas.pixels(true)).subarray(at, at + 3)].map((v) => linear(v));
    expect([level, tint]).toEqual([level, TINTS[level].map((v) => expect.closeTo(v, 1))]);
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

  // twice across and down: copies as the sides are wrapped, as deep as they are small
  const [side, half] = [128, 64];
  const camera = { distance: HEIGHT / side / (2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360)) };
  const { mesh } = cardSurface({ cardWidth: 1 }, mask);
  const twice = { ...mesh, uvs: mesh.uvs.map((v) => 2 * v) };
  const WRAPPED: Record<Wrap, (at: number) => number> = {
    clamp: (at) => Math.min(half - 1, at),
    repeat: (at) => at % half,
    mirror: (at) => (at < half ? at : side - 1 - at),
  };
  for (const [wrap, wrapped] of Object.entries(WRAPPED) as [Wrap, (at: number) => number][]) {
    await canvas.setSurface(twice, PIECE, wrap);
    const shown = async (data: Uint8Array) => {
      await canvas.show({ ...ON_CANVAS, views: [lit({ camera })] });
      await canvas.setMap('mask', { ...mask, data });
      return new Uint32Array((await canvas.pixels(true)).buffer);
    };
    const [whole, clipped] = [await shown(new Uint8Array(mask.data.length).fill(255)), await shown(mask.data)];
    let [compared, different] = [0, 0];
    for (let y = 0; y < side; y++) {
      for (let x = 0; x < side; x++) {
        const alpha = (levels[3].data as Uint8Array)[wrapped(y) * half + wrapped(x)] / 255;
        if (Math.abs(alpha - 0.6) < 0.03) continue;
        const i = (y + (HEIGHT - side) / 2) * WIDTH + x + (WIDTH - side) / 2;
        compared++;
        if ((clipped[i] === whole[i]) !== alpha >= 0.6) different++;
      }
    }
    expect([wrap, different, compared > 0.8 * side * side]).toEqual([wrap, 0, true]);
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
  const shown = async (data: Uint8Array, drawn: ClipDrawing) => {
    await canvas.show({ ...ON_CANVAS, views: [lit({ camera: { distance }, drawn })] });
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
    const camera = { azimuth, elevation, distance, middle: [0, 0.375, -0.1] };
    const copies = azimuth > 0.5 ? 3 : 1; // where there are copies, all of it changes
    const scenery = { ...ON_CANVAS, views: [lit({ camera, environment: 'pale', copies })] };
    const data = mask.data.slice();
    await canvas.setMap('mask', { ...mask, data });
    await canvas.show(scenery);
    const before = await canvas.pixels();
    const box = { x0: 150, y0: 40, x1: 214, y1: 104 };
    for (let y = box.y0; y < box.y1; y++) data.fill((y >> 3) % 2 ? 255 : 0, y * 256 + box.x0, y * 256 + box.x1);
    await canvas.setMap('mask', { ...mask, data }, { change: [box] });
    const part = Buffer.from(await canvas.pixels(true));
    expect(part.equals(before)).toBe(false);
    await canvas.show(scenery);
    expect(part.equals(await canvas.pixels())).toBe(true);
  }
});

test('six views of three pieces are on one canvas at once, and a piece that is forgotten leaves no texture', async ({
  page,
}) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  const { colour, mask } = pictureOf(64, 64);
  const [across, down] = [WIDTH / 3, HEIGHT / 2];
  const rectOf = (x: number, y: number) => ({ x: Math.round(x * across), y: y * down, width: 85, height: down });
  const look = { centre: { x: 32, y: 32 }, zoom: 2, picture: { width: 64, height: 64 } };
  const pieces = ['a', 'b', 'c'];
  const views = pieces.flatMap((piece, x) => [
    flat({ look }, placed(`flat ${piece}`, rectOf(x, 0), piece)),
    lit({}, placed(`lit ${piece}`, rectOf(x, 1), piece)),
  ]);
  for (const [i, piece] of pieces.entries()) {
    const plain = new Uint8Array(colour.data.length).map((_, at) => (at % 4 === i || at % 4 === 3 ? 255 : 40));
    await canvas.setMap('colour', { ...colour, data: plain }, { piece });
    await canvas.setMap('mask', mask, { piece, key: 'the same mask' });
    await canvas.setSurface(cardSurface({ cardWidth: 1 }, mask).mesh, piece);
  }
  await canvas.setMaterial({ ...MATERIAL, mode: 'blend', cutoff: 0.8 }, 'b');
  await canvas.show({ ...ON_CANVAS, views });
  const together = await canvas.pixels(true);
  for (const view of views) {
    const { x, y, width, height } = view.rect;
    await canvas.show({ ...ON_CANVAS, views: [view] });
    const alone = await canvas.pixels();
    const rows = Array.from({ length: height }, (_, row) => 4 * ((y + row) * WIDTH + x));
    const differ = rows.filter((at) =>
      Buffer.from(alone.subarray(at, at + 4 * width)).compare(together.subarray(at, at + 4 * width)),
    );
    expect([view.id, differ.length]).toEqual([view.id, 0]);
    const seen = new Set(rows.map((at) => alone.subarray(at + 2 * width, at + 2 * width + 4).join()));
    expect([view.id, seen.size > 1]).toEqual([view.id, true]);
  }
  // three colours and the one mask that all three have
  expect(await canvas.forget('nobody')).toBe(4);
  expect(await canvas.forget('a')).toBe(3);
  // a stroke on one piece's mask leaves the other's: it has its own from then on
  await canvas.setMap('mask', mask, { piece: 'b', change: [{ x0: 0, y0: 0, x1: 8, y1: 8 }] });
  expect(await canvas.forget('nobody')).toBe(4);
  expect(await canvas.forget('b')).toBe(2);
  expect(await canvas.forget('c')).toBe(0);
});
