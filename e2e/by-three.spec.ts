import { readFileSync } from 'node:fs';
import { pictureTools } from '@lithe-sieve/host';
import { expect, type Page } from '@playwright/test';
import {
  CARD_NORMALS,
  CARD_SIDES,
  cardOf,
  cardSurface,
  FLAT,
  makePicture,
  ONE_CARD,
  packHandOff,
  PIECE_DEFAULTS,
  planckian,
  readObj,
  rgbOf,
  standingMesh,
  sunWay,
  type CardForm,
  type MapName,
  type PieceDoc,
  type Raster,
  type Samples,
} from '@lithe-sieve/core';
import { glbTools } from '@lithe-sieve/host/glb';
import { openCanvas } from './draw-worker.ts';
import { FIELD_OF_VIEW, HEIGHT, lit, ON_CANVAS, pictureOf, WIDTH } from './drawn-views.ts';
import { test } from './test.ts';

const tools = {
  ...pictureTools,
  glb: glbTools,
};

/** Of the plain environment that both have: its sun, and what comes from around. */
const SUN = { height: 38, turn: -36, warmth: 5200, size: 0.5, exposure: 0, tone: 'none' };
/** As bright as white at normal incidence. */
const SUN_LIGHT = 2.6;
const AROUND = { sky: 0xe8eef2, ground: 0x9a8f7c, fill: 0.55 };

/** Modules of three as they are published, for a page that knows no packages. */
async function serveThree(page: Page): Promise<void> {
  await page.route('**/three-own/**', (route) => {
    const path = new URL(route.request().url()).pathname.replace('/three-own/', '');
    const text = readFileSync(new URL(`../node_modules/three/${path}`, import.meta.url), 'utf8');
    const body = text.replaceAll(/from 'three'/g, "from '/three-own/build/three.module.js'");
    return route.fulfill({ contentType: 'text/javascript', body });
  });
}

/** What three's own loader and its standard renderer make of a GLB: RGBA, top row first. */
async function drawnByThree(page: Page, glb: Uint8Array, azimuth: number, strength: number): Promise<Uint8Array> {
  const kelvin = rgbOf(1, ...planckian(SUN.warmth)).map((v) => v * SUN_LIGHT * strength);
  const text = await page.evaluate(
    async ({ glb, azimuth, kelvin, way, around, fov, size: [width, height] }) => {
      const at = (path: string) => `/three-own/${path}`;
      const THREE = (await import(at('build/three.module.js'))) as typeof import('three');
      const { GLTFLoader } = (await import(
        at('examples/jsm/loaders/GLTFLoader.js')
      )) as typeof import('three/examples/jsm/loaders/GLTFLoader.js');
      const bytes = Uint8Array.from(atob(glb), (c) => c.charCodeAt(0));
      const { scene: card } = await new GLTFLoader().parseAsync(bytes.buffer, '');
      const renderer = new THREE.WebGLRenderer({ antialias: false, preserveDrawingBuffer: true });
      renderer.setSize(width, height);
      const scene = new THREE.Scene();
      const sun = new THREE.DirectionalLight();
      sun.color.setRGB(...(kelvin as [number, number, number]));
      sun.position.set(...way);
      scene.add(card, sun, new THREE.HemisphereLight(around.sky, around.ground, around.fill));
      const camera = new THREE.PerspectiveCamera(fov, width / height, 0.05, 100);
      camera.position.set(2 * Math.sin(azimuth), 0.5, 2 * Math.cos(azimuth));
      camera.lookAt(0, 0.5, 0);
      renderer.render(scene, camera);
      const copy = new OffscreenCanvas(width, height).getContext('2d')!;
      copy.drawImage(renderer.domElement, 0, 0);
      const { data } = copy.getImageData(0, 0, width, height);
      renderer.dispose();
      let out = '';
      for (let i = 0; i < data.length; i += 8192) out += String.fromCharCode(...data.subarray(i, i + 8192));
      return btoa(out);
    },
    {
      glb: Buffer.from(glb).toString('base64'),
      azimuth,
      kelvin,
      way: [...sunWay(SUN.height, SUN.turn)] as [number, number, number],
      around: AROUND,
      fov: FIELD_OF_VIEW,
      size: [WIDTH, HEIGHT] as const,
    },
  );
  return new Uint8Array(Buffer.from(text, 'base64'));
}

/** Pictures of a GLB are read through addresses that the application itself never uses. */
test.use({ bypassCSP: true });

const SIDE = 64;
const { mask } = pictureOf(SIDE, SIDE);
const BEHIND = [255, 0, 255];
const waves = (of: (x: number, y: number) => number) =>
  Uint8Array.from({ length: SIDE * SIDE }, (_, i) =>
    Math.round(255 * of((i % SIDE) / SIDE, Math.floor(i / SIDE) / SIDE)),
  );
const values = (of: (x: number, y: number) => number) => ({
  width: SIDE,
  height: SIDE,
  channels: 1 as const,
  data: waves(of),
});
/** Smooth: what lies between texels is then the same however it is rounded. */
const smooth = makePicture(
  SIDE,
  SIDE,
  Uint8Array.from(
    { length: 4 * SIDE * SIDE },
    (_, i) => [60 + ((i >> 2) % SIDE), 140, 90 + ((i >> 8) % SIDE), 255][i % 4],
  ),
);
const leaning = {
  width: SIDE,
  height: SIDE,
  channels: 3 as const,
  data: Uint16Array.from({ length: 3 * SIDE * SIDE }, (_, i) => {
    const [x, y] = [0.3 * Math.sin((Math.floor(i / 3) % SIDE) / 8), 0.2];
    return Math.round(32767.5 + 32767.5 * [x, y, Math.sqrt(1 - x * x - y * y)][i % 3]);
  }),
};
const SLOTS = new Map<MapName, Raster<Samples>>([
  ['normal', leaning],
  ['roughness', values((x) => 0.4 + 0.5 * x)],
  ['metalness', values((_, y) => y)],
  ['specular', values((x, y) => (x + y) / 2)],
  ['occlusion', values((x, y) => 1 - 0.5 * x * y)],
  ['emission', { ...smooth, data: smooth.data.map((v, i) => (i % 4 === 3 ? 255 : v >> 1)) }],
]);

/** A face of a mesh of our own, on which the picture lies turned, smaller, and mirrored beyond its sides. */
const FACE = readObj(
  new TextEncoder().encode(
    'v -.5 0 0\nv .5 0 0\nv .5 1 0\nv -.5 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n',
  ),
);
const LAID: PieceDoc['mesh'] = {
  sha256: 'a'.repeat(64),
  fileName: 'face.obj',
  metres: 1,
  up: 'y',
  placement: { middle: [0.4, 0.6], size: [0.5, 0.6], turn: 30, plane: [1, 0, 0, 1] },
};
const MIRRORED = { ...PIECE_DEFAULTS.levels, wrapAcross: 'mirror', wrapDown: 'mirror' } as const;
const NONE = new Map<MapName, Raster<Samples>>();
const FRONT = 0.3;
const bent = (form: Partial<CardForm>) => ({ form: { ...FLAT, ...form } });

// glTF 2.0 §3.9 and Appendix B as a reader reads them that shares nothing with our writer and our shader
test('the GLB that is handed off, drawn by three’s own loader, is what the Stand shows', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  await serveThree(page);
  const cases: [what: string, more: Partial<PieceDoc>, maps?: typeof NONE, azimuth?: number, strength?: number][] = [
    ['colour and mask', {}, NONE],
    ['every slot', {}],
    ['its back', {}, SLOTS, Math.PI + FRONT],
    ['bent', bent({ kind: 'bent', along: 50, across: 30 })],
    ['folded', bent({ kind: 'folded' })],
    ['round a post', bent({ kind: 'round a post', radius: 300, wrap: 120 })],
    ['slung', bent({ kind: 'slung' })],
    // they shadow each other, which the other side does not draw
    ['two cards crossed', { set: { ...ONE_CARD, kind: 'star', cards: 2 } }, SLOTS, FRONT, 0],
    ['a back of triangles', { sides: CARD_SIDES }, SLOTS, Math.PI + FRONT],
    ['normals of a sphere', { normals: { ...CARD_NORMALS, share: 0.7 } }],
    ['turned on a face, mirrored beyond it', { mesh: LAID, levels: MIRRORED }],
  ];
  for (const [what, more, maps = SLOTS, azimuth = FRONT, strength = 1] of cases) {
    const material = { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: !more.sides, emission: 0.7 } as const;
    const doc: PieceDoc = { ...structuredClone(PIECE_DEFAULTS), name: 'Card', sources: [], run: [], cardWidth: 1, material, ...more }; // prettier-ignore
    const [file] = await packHandOff(doc, { colour: smooth, mask, maps }, { ...tools, mesh: FACE });
    const { mesh } = doc.mesh ? standingMesh(FACE, doc.mesh, doc) : cardSurface(cardOf(doc), mask);
    await canvas.setSurface(mesh, undefined, doc.levels.wrapAcross);
    for (const [name, raster] of maps) await canvas.setMap(name, raster);
    await canvas.setMap('colour', smooth);
    await canvas.setMaterial(material);
    await canvas.show({ ...ON_CANVAS, views: [lit({ camera: { azimuth }, light: { ...SUN, strength }, behind: { kind: 'colour', colour: BEHIND } })] }); // prettier-ignore
    await canvas.setMap('mask', mask);
    const [ours, theirs] = [await canvas.pixels(true), await drawnByThree(page, file.bytes, azimuth, strength)];
    let [off, card, edge] = [0, 0, 0];
    for (let i = 0; i < theirs.length; i += 4) {
      const [isOurs, isTheirs] = [BEHIND.some((v, k) => ours[i + k] !== v), theirs[i] + theirs[i + 1] + theirs[i + 2] > 0]; // prettier-ignore
      if (isOurs !== isTheirs) edge++;
      if (!isOurs || !isTheirs) continue;
      card++;
      for (let k = 0; k < 3; k++) off += Math.abs(ours[i + k] - theirs[i + k]) / 3;
    }
    expect([what, card > 2000, off / card < 1, edge <= 0.01 * card]).toEqual([what, true, true, true]);
  }
});
