import { readdirSync } from 'node:fs';
import type { Page } from '@playwright/test';
import {
  mapMips,
  type Change,
  type MapName,
  type Raster,
  type Samples,
  type SurfaceMesh,
  type Wrap,
} from '@lithe-sieve/core';

/** The built drawing worker alone on a canvas: what it draws of known maps is read back pixel by pixel. */
export interface Canvas {
  setMap(
    map: MapName,
    raster: Raster<Samples>,
    more?: { change?: Change; piece?: string; key?: string },
  ): Promise<void>;
  /** @param wrap - Of both sides. */
  setSurface(mesh: SurfaceMesh, piece?: string, wrap?: Wrap): Promise<void>;
  setMaterial(material: object, piece?: string): Promise<void>;
  /** Draws all views whole. */
  show(scenery: { views: readonly { id: string }[] }): Promise<void>;
  /** @returns how many textures of pieces are left. */
  forget(piece: string): Promise<number>;
  /**
   * RGBA of the canvas, top row first, once nothing more is drawn.
   *
   * @param withMap - Whether to wait until a lit view is drawn with the map that was set last, however long a shader takes.
   */
  pixels(withMap?: boolean): Promise<Uint8Array>;
  /** The same once the view is refined as far as it gets. */
  atRest(): Promise<Uint8Array>;
  /** Asks for a picture of this view from afar, after which it is refined again. */
  far(view: object): Promise<void>;
}

/** The key of the piece where a test has one. */
export const PIECE = 'piece';

interface PageSide {
  worker: Worker;
  canvas: HTMLCanvasElement;
  drawn: number;
  /** Views that are shown next, and those that were shown and not drawn since. */
  next: string[] | null;
  waiting: string[];
  /** Of the map that a lit view was drawn with last. */
  turn: number;
  textures: number | null;
  /** How far the view is refined. */
  left: number;
}
type Window = { drawn: PageSide };
type Heard = { type: string; textures: number; views: { id: string; turn: number; samples: number; of: number }[] };

export async function openCanvas(page: Page, width: number, height: number): Promise<Canvas> {
  await page.goto('/api/pieces'); // any page of this origin: the application itself is not needed
  const script = readdirSync(new URL('../apps/web/dist/assets', import.meta.url)).find((f) =>
    /^draw\.worker.*\.js$/.test(f),
  );
  await page.evaluate(
    async ([url, w, h]) => {
      const canvas = document.createElement('canvas');
      Object.assign(canvas, { width: w, height: h });
      document.body.replaceChildren(canvas);
      const worker = new Worker(url, { type: 'module' });
      const side: PageSide = {
        worker,
        canvas,
        drawn: 0,
        next: null,
        waiting: [],
        turn: 0,
        textures: null,
        left: Infinity,
      };
      (window as unknown as Window).drawn = side;
      const ready = new Promise<void>((resolve, reject) =>
        worker.addEventListener('message', ({ data }: MessageEvent<Heard>) => {
          if (data.type === 'ready') resolve();
          if (data.type === 'drawn') side.drawn++;
          if (data.type === 'drawn') side.left = Infinity;
          if (data.type === 'refined') side.left = data.views[0].of - data.views[0].samples;
          if (data.type === 'drawn') side.waiting = side.waiting.filter((id) => !data.views.some((v) => v.id === id));
          if (data.type === 'freed') side.textures = data.textures;
          if (data.type === 'freed' && side.next) Object.assign(side, { drawn: 0, waiting: side.next, next: null });
          const lit = data.type === 'drawn' && data.views.find(({ id }) => id.startsWith('lit'));
          if (lit) side.turn = lit.turn;
          if (data.type === 'no-graphics') reject(new Error('no WebGL 2'));
        }),
      );
      const given = canvas.transferControlToOffscreen();
      worker.postMessage({ type: 'start', canvas: given }, [given]);
      await ready;
    },
    [`/assets/${script}`, width, height] as const,
  );
  const send = (...messages: object[]) =>
    page.evaluate((text) => {
      const revive = (_: string, value: unknown) =>
        value && typeof value === 'object' && 'base64' in value
          ? samplesOf(value as { base64: string; bytes: number })
          : value;
      const samplesOf = ({ base64, bytes }: { base64: string; bytes: number }) => {
        const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
        return bytes === 1 ? data : new Uint16Array(data.buffer);
      };
      for (const message of JSON.parse(text, revive)) (window as unknown as Window).drawn.worker.postMessage(message);
    }, JSON.stringify(messages));
  let turn = 0;
  return {
    setMap(map, raster, { change = 'whole', piece = PIECE, key = null } = {}) {
      const levels = [raster, ...mapMips(map, raster)].map((level) => ({
        ...level,
        data: {
          base64: Buffer.from(level.data.buffer, level.data.byteOffset, level.data.byteLength).toString('base64'),
          bytes: level.data.BYTES_PER_ELEMENT,
        },
      }));
      return send({ type: 'texture', piece, place: map, key, levels, change, turn: ++turn });
    },
    setSurface({ positions, normals, uvs, indices }, piece = PIECE, wrap = 'clamp') {
      return page.evaluate(
        ([key, by, [p, n, t, i]]) => {
          const mesh = {
            positions: Float32Array.from(p),
            normals: Float32Array.from(n),
            uvs: Float32Array.from(t),
            indices: Uint16Array.from(i),
          };
          (window as unknown as Window).drawn.worker.postMessage({
            type: 'surface',
            piece: key,
            mesh,
            plain: [],
            backTint: null,
            wraps: { across: by, down: by },
          });
        },
        [piece, wrap, [positions, normals, uvs, indices].map((a) => [...a])] as const,
      );
    },
    setMaterial: (material, piece = PIECE) => send({ type: 'material', piece, material }),
    async show(scenery) {
      const ids = scenery.views.map(({ id }) => id);
      await page.evaluate((next) => Object.assign((window as unknown as Window).drawn, { next }), ids);
      // the answer to the first comes after all pictures of what was shown before
      await send({ type: 'forget', piece: 'nothing' }, { type: 'show', scenery, stale: ids });
    },
    async forget(piece) {
      await page.evaluate(() => ((window as unknown as Window).drawn.textures = null));
      await send({ type: 'forget', piece });
      await page.waitForFunction(() => (window as unknown as Window).drawn.textures !== null);
      return (await page.evaluate(() => (window as unknown as Window).drawn.textures))!;
    },
    async far(view) {
      await page.evaluate(() => ((window as unknown as Window).drawn.left = Infinity));
      await send({ type: 'far', view, side: 16, turn: 0 });
    },
    async atRest(): Promise<Uint8Array> {
      await page.waitForFunction(() => (window as unknown as Window).drawn.left === 0, null, { polling: 100 });
      return (this as Canvas).pixels();
    },
    async pixels(withMap = false) {
      const text = await page.evaluate(
        async (wanted) => {
          const side = (window as unknown as Window).drawn;
          const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
          while (side.turn < wanted || side.drawn === 0 || side.next || side.waiting.length > 0) await pause(20); // a busy machine takes its time
          for (let before = -1; before !== side.drawn;) {
            before = side.drawn;
            await pause(500); // a lit view may wait a moment for the flat ones
          }
          const copy = new OffscreenCanvas(side.canvas.width, side.canvas.height).getContext('2d')!;
          copy.drawImage(side.canvas, 0, 0);
          const { data } = copy.getImageData(0, 0, side.canvas.width, side.canvas.height);
          let out = '';
          for (let i = 0; i < data.length; i += 8192) out += String.fromCharCode(...data.subarray(i, i + 8192));
          return btoa(out);
        },
        withMap ? turn : 0,
      );
      return new Uint8Array(Buffer.from(text, 'base64'));
    },
  };
}
