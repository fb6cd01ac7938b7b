import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { ENVIRONMENT_LIGHTS } from '../src/drawing/lit/environments';
import { storedLights } from '../src/drawing/kept-light';
import { Vector3 } from 'three';
import { ref } from 'vue';
import { cardSurface, keptBox, meshSurface, PIECE_DEFAULTS } from '@lithe-sieve/core';
import { calm } from '../src/engine/calm';
import { SheetPose } from '../src/drawing/sheet-pose';
import { around } from '../src/drawing/cameras/around';
import { pixelsAround } from '../src/drawing/poses';
import { seenLit, toView } from '../src/drawing/lit/lit-part';
import { StandPose } from '../src/drawing/stand-pose';
import { Stage } from '../src/features/stage/stage';
import type { FromDrawing, ToDrawing } from '../src/drawing/messages';
import { colourThumb, maskThumb } from '../src/workers/thumbs';

const view = { x: 0, y: 0, width: 500, height: 460 };

describe('the Sheet', () => {
  const sheet = new SheetPose();
  sheet.setPicture(2048, 1024);

  test('fits the picture, and says which texel lies under a point', () => {
    sheet.fit(view);
    expect(sheet.scale).toBeCloseTo((500 / 2048) * 0.96);
    expect(sheet.texelAt(250, 230, view)).toEqual({ x: 1024, y: 512 });
    const { x, y } = sheet.pointOf(100, 900, view);
    expect(sheet.texelAt(x, y, view).x).toBeCloseTo(100);
    expect(sheet.texelAt(x, y, view).y).toBeCloseTo(900);
  });

  test('keeps the texel under the pointer where it is while zooming, up to 64 pixels a texel', () => {
    sheet.fit(view);
    const before = sheet.texelAt(140, 260, view);
    for (let i = 0; i < 9; i++) sheet.zoomAt(1.5, 140, 260, view);
    const after = sheet.texelAt(140, 260, view);
    expect(after.x).toBeCloseTo(before.x, 6);
    expect(after.y).toBeCloseTo(before.y, 6);
    for (let i = 0; i < 40; i++) sheet.zoomAt(2, 140, 260, view);
    expect(sheet.scale).toBe(64);
  });

  test('fits what is kept, however small a part of the picture it is', () => {
    const data = new Uint8Array(400 * 200);
    data.fill(200, 90 * 400 + 300, 90 * 400 + 320);
    data.fill(255, 100 * 400 + 310, 100 * 400 + 312);
    const mask = { width: 400, height: 200, channels: 1 as const, data };
    const box = keptBox(mask, 128)!;
    expect(box).toEqual({ x0: 300, y0: 90, x1: 320, y1: 101 });
    expect(keptBox(mask, 256)).toBeNull();
    sheet.fitBox(box, view);
    const [a, b] = [sheet.pointOf(box.x0, box.y0, view), sheet.pointOf(box.x1, box.y1, view)];
    expect(b.x - a.x).toBeCloseTo(0.9 * view.width);
    expect([a.y > 0, b.y < view.height]).toEqual([true, true]);
  });

  test('never loses the picture from sight by panning', () => {
    sheet.fit(view);
    sheet.panBy(1e6, -1e6);
    expect(sheet.look.centre).toEqual({ x: 0, y: 1024 });
  });
});

/** A card folded along the middle like an open book, its back towards +Z: a second kind of card. */
const FOLDED = meshSurface({
  positions: Float32Array.of(-0.4, 0, -0.3, -0.4, 0.6, -0.3, 0, 0, 0, 0, 0.6, 0, 0.4, 0, -0.3, 0.4, 0.6, -0.3),
  normals: Float32Array.from([-0.6, -0.6, 0, 0, 0.6, 0.6].flatMap((x) => [x, 0, x ? 0.8 : 1])),
  uvs: Float32Array.of(0, 1, 0, 0, 0.5, 1, 0.5, 0, 1, 1, 1, 0),
  indices: Uint16Array.of(0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3),
});

test('the pixels around the places of a large mesh, more than a call takes arguments', () => {
  const points = Array.from({ length: 300_000 }, (_, i) => ({ x: 10 + (i % 50), y: 20 + (i % 7) }));
  expect(pixelsAround(points, 2, { width: 100, height: 100 })).toEqual({ x: 8, y: 18, width: 53, height: 10 });
  expect(pixelsAround([], 2, { width: 100, height: 100 })).toMatchObject({ width: 0, height: 0 });
});

describe('the Stand', () => {
  test.each([
    ['front', 0],
    ['back', 1],
  ])('finds the texel under a point of the %s, and the point of a texel', (_, flips) => {
    const stand = new StandPose();
    stand.setSurface(cardSurface({ cardWidth: 0.5 }, { width: 1024, height: 2048 }));
    for (let i = 0; i < flips; i++) stand.flip();
    expect(stand.seesFront).toBe(flips === 0);
    for (const [u, v] of [
      [0.1, 0.1],
      [0.5, 0.5],
      [0.9, 0.75],
    ]) {
      const { x, y } = stand.pointOf(u, v, view);
      const found = stand.pictureAt(x, y, view)!;
      expect(found.u).toBeCloseTo(u, 5);
      expect(found.v).toBeCloseTo(v, 5);
    }
    expect(stand.pictureAt(2, 2, view)).toBeNull();
  });

  test.each([0, 0.6, 1.9, 3.5])('on a folded card, too: what is seen first, from %f radians', (turn) => {
    const stand = new StandPose();
    stand.setSurface(FOLDED);
    stand.orbitBy(-turn / 0.008, 12);
    let seen = 0;
    for (let x = 20; x < view.width; x += 40) {
      for (let y = 20; y < view.height; y += 40) {
        const found = stand.pictureAt(x, y, view);
        if (!found) continue;
        seen++;
        const back = stand.pointOf(found.u, found.v, view);
        expect([back.x, back.y]).toEqual([expect.closeTo(x, 3), expect.closeTo(y, 3)]);
      }
    }
    expect(seen).toBeGreaterThan(10);
  });

  test.each([0, 0.9, 3.3])(
    'a part of a folded card and its shadow are seen in the part drawn, from %f radians',
    (turn) => {
      const stand = new StandPose();
      stand.setSurface(FOLDED);
      stand.orbitBy(-turn / 0.008, 8);
      const picture = { width: 1000, height: 600 };
      const sun = new Vector3(1.6, -2.1, -2.2);
      const part = { x0: 700, y0: 100, x1: 940, y1: 300 };
      const shown = seenLit({ box: part, picture }, FOLDED, stand.look, view, sun);
      const camera = around.make();
      around.place(camera, stand.look, view);
      for (let x = part.x0; x <= part.x1; x += 20) {
        for (let y = part.y0; y <= part.y1; y += 20) {
          const on = new Vector3(...FOLDED.pointAt(x / picture.width, y / picture.height)!.position);
          for (const place of [on, on.clone().addScaledVector(sun, -on.y / sun.y)]) {
            const at = toView(place, camera, view);
            if (at.x < 0 || at.y < 0 || at.x > view.width || at.y > view.height) continue;
            expect(at.x).toBeGreaterThanOrEqual(shown.x);
            expect(at.x).toBeLessThanOrEqual(shown.x + shown.width);
            expect(at.y).toBeGreaterThanOrEqual(shown.y);
            expect(at.y).toBeLessThanOrEqual(shown.y + shown.height);
          }
        }
      }
      expect(shown.width * shown.height).toBeLessThan(0.8 * view.width * view.height);
    },
  );

  test('from the back, left and right are changed over', () => {
    const stand = new StandPose();
    const front = stand.pointOf(0.9, 0.5, view).x - stand.pointOf(0.1, 0.5, view).x;
    stand.flip();
    expect(Math.sign(stand.pointOf(0.9, 0.5, view).x - stand.pointOf(0.1, 0.5, view).x)).toBe(-Math.sign(front));
  });

  test('twice as far is one mip level further', () => {
    const stand = new StandPose();
    stand.setDistance(4);
    const near = stand.mipLevel(2048, view, 1);
    stand.setDistance(8);
    expect(stand.mipLevel(2048, view, 1)).toBeCloseTo(near + 1);
  });
});

test('lights that the browser keeps are read within their ranges, and nonsense is as it is at first', () => {
  const [first, dusk] = [storedLights(null), { ...ENVIRONMENT_LIGHTS.dusk, height: 20 }];
  expect(first).toEqual(ENVIRONMENT_LIGHTS);
  expect(storedLights('{"clear": 7, "dusk')).toEqual(first);
  expect(storedLights(JSON.stringify({ clear: 7, dusk, dark: { ...dusk, height: 1e9, turn: 'x', tone: 'odd' } }))).toEqual({
    ...first,
    dusk,
    dark: { ...dusk, height: 90, turn: first.dark.turn, tone: first.dark.tone },
  });
}); // prettier-ignore

describe('thumbs', () => {
  test('a checker of single texels becomes grey; a mask that is seen again is not drawn again', () => {
    const data = new Uint8Array(512 * 256).map((_, i) => ((i & 1) ^ ((i >> 9) & 1) ? 255 : 0));
    const mask = { width: 512, height: 256, channels: 1 as const, data };
    const thumb = maskThumb(mask);
    expect([thumb.width, thumb.height]).toEqual([128, 64]);
    const quads = [...thumb.rgba.slice(0, 4)];
    expect(quads[3]).toBe(255);
    expect([quads[1], quads[2]]).toEqual([quads[0], quads[0]]);
    expect(Math.abs(quads[0] - 127.5)).toBeLessThan(2); // half of the texels
    expect(maskThumb(mask)).toBe(thumb);
  });

  test('colour is shown without its alpha', () => {
    const data = new Uint8Array([10, 20, 30, 0, 10, 20, 30, 0, 10, 20, 30, 0, 10, 20, 30, 0]);
    const { rgba } = colourThumb({ width: 2, height: 2, channels: 4, data });
    expect([...rgba.slice(0, 4)]).toEqual([8, 20, 28, 255]); // quarters are added, each rounded down
  });
});

describe('figures in words', () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  test('follow a drag ten times a second, and its end', () => {
    const value = ref(0);
    const said = calm(() => value.value);
    for (let i = 1; i <= 9; i++) value.value = i;
    expect(said.value).toBe(1);
    jest.advanceTimersByTime(100);
    expect(said.value).toBe(9);
  });
});

const MATERIAL = PIECE_DEFAULTS.material;

describe('graphics that are lost', () => {
  /** Stands in for the drawing worker: keeps the messages it got. */
  class Drawer extends EventTarget {
    static all: Drawer[] = [];
    readonly told: ToDrawing[] = [];
    ended = false;
    constructor() {
      super();
      Drawer.all.push(this);
    }
    postMessage(message: ToDrawing): void {
      this.told.push(message);
    }
    terminate(): void {
      this.ended = true;
    }
    say(data: FromDrawing): void {
      this.dispatchEvent(new MessageEvent('message', { data }));
    }
  }

  beforeEach(() => {
    jest.useFakeTimers();
    Drawer.all = [];
    Object.assign(globalThis, { Worker: Drawer });
    Object.assign(HTMLCanvasElement.prototype, { transferControlToOffscreen: () => ({}) });
  });
  afterEach(() => void jest.useRealTimers());

  test('another worker takes over on another canvas, with the pictures that were shown', () => {
    const stage = new Stage();
    const [first] = Drawer.all;
    first.say({ type: 'ready', maxSide: 8192 });
    stage.setMap('mask', [{ width: 1, height: 1, channels: 1, data: new Uint8Array(1) }], 'whole', 3);
    const canvas = stage.holder.firstChild;
    first.say({ type: 'lost' });
    expect(stage.graphics.fault).toBe('lost');
    jest.advanceTimersByTime(1000);
    const [, second] = Drawer.all;
    expect(first.ended).toBe(true);
    expect(stage.holder.firstChild).not.toBe(canvas);
    expect(second.told.map((m) => m.type)).toEqual(['start', 'texture']);
    second.say({ type: 'ready', maxSide: 8192 });
    expect(stage.graphics.fault).toBeNull();
  });

  test('a material goes out once, with what is shown; a look that is the same is not drawn again', () => {
    const stage = new Stage();
    const [drawer] = Drawer.all;
    const look = (cutoff: number) => stage.setLook('kept', 'cut', { ...MATERIAL, cutoff }, { by: 'hard', samples: 4 });
    const types = () => drawer.told.splice(0).map((m) => (m.type === 'show' ? `show ${m.stale.join()}` : m.type));
    look(0.3);
    look(0.4);
    jest.advanceTimersByTime(50);
    expect(types()).toEqual(['start', 'material', 'show sheet,stand']);
    look(0.4);
    jest.advanceTimersByTime(50);
    expect(types()).toEqual([]);
    stage.setLook('mask', 'cut', { ...MATERIAL, cutoff: 0.4 }, { by: 'hard', samples: 4 });
    jest.advanceTimersByTime(50);
    expect(types()).toEqual(['show sheet']);
    stage.forget();
    jest.advanceTimersByTime(50);
    expect(types()).toEqual(['forget', 'material', 'show sheet,stand']);
  });

  test('graphics that are lost again and again are left alone, with a message', () => {
    const stage = new Stage();
    for (let i = 0; i < 6; i++) {
      Drawer.all.at(-1)!.say({ type: 'lost' });
      jest.advanceTimersByTime(5000);
    }
    expect(Drawer.all.length).toBe(4);
    expect(stage.graphics.fault).toBe('lost');
  });

  test('a browser without WebGL 2 is distinguished from one that lost it', () => {
    const stage = new Stage();
    Drawer.all[0].say({ type: 'no-graphics' });
    expect(stage.graphics.fault).toBe('none');
  });
});
