import { chance } from '@lithe-sieve/core';
import * as THREE from 'three';

const SIDE = 512;
/** Boards of the walk that one side of the picture shows, and the share of a board that is gap. */
const BOARDS = 9;
const GAP = 0.07;
/** Sides of the card that the picture covers. */
const COVERS = 1.7;

/** Light that comes back, 0 to 1, of a place of a picture from 0 to 1 in both; red, green, blue, linear. */
type Surface = (across: number, down: number) => readonly [number, number, number];

/** Smooth noise that repeats: `across` by `down` cells of a picture. */
function noise(seed: number, across: number, down: number): (x: number, y: number) => number {
  const at = (i: number, j: number) => chance(seed, (j % down) * across + (i % across));
  const ease = (t: number) => t * t * (3 - 2 * t);
  return (x, y) => {
    const [i, j] = [Math.floor(x * across), Math.floor(y * down)];
    const [u, v] = [ease(x * across - i), ease(y * down - j)];
    const row = (k: number) => at(i, k) * (1 - u) + at(i + 1, k) * u;
    return row(j) * (1 - v) + row(j + 1) * v;
  };
}

/** Weathered boards side by side, each with its own grey, its grain, an end, and two nails there. */
function boards(): Surface {
  const [fine, coarse, spots] = [noise(1, 6, 230), noise(2, 5, 64), noise(3, 40, 40)];
  return (x, y) => {
    const board = Math.floor(y * BOARDS) % BOARDS;
    const within = y * BOARDS - Math.floor(y * BOARDS);
    const end = Math.abs(((x + chance(4, board) + 1.5) % 1) - 0.5);
    if (within < GAP || end < 0.003) return [0.02, 0.018, 0.015];
    const nail = Math.hypot((end - 0.02) * BOARDS, Math.min(Math.abs(within - 0.3), Math.abs(within - 0.77)));
    if (nail < 0.035) return [0.06, 0.05, 0.045];
    const shade = 0.75 + 0.35 * chance(5, board);
    const light = shade * (0.72 + 0.3 * fine(x, y) + 0.3 * coarse(x, y) - 0.12 * spots(x, y));
    const round = 1 - 0.25 * Math.max(0, 1 - Math.min(within - GAP, 1 - within) / 0.08); // edges are worn
    const warm = 0.1 * (chance(6, board) - 0.5);
    return [0.3 * (1 + warm) * light * round, 0.27 * light * round, 0.22 * (1 - warm) * light * round];
  };
}

/** A post that stood in water: grain along it, dark and green towards its foot. */
function post(): Surface {
  const [grain, patches] = [noise(7, 60, 5), noise(8, 9, 14)];
  return (x, y) => {
    const wet = Math.max(0, Math.min(1, (0.34 - y) * 5 + 0.5 * (patches(x, y) - 0.5)));
    const light = 0.55 + 0.7 * grain(x, y) * (0.6 + 0.4 * patches(x, y));
    return [0.2 * light * (1 - 0.62 * wet), 0.165 * light * (1 - 0.45 * wet), 0.115 * light * (1 - 0.6 * wet)];
  };
}

/** A float of the crab nets: red paint over a pale band, chipped. */
function float(): Surface {
  const [chips, dirt] = [noise(9, 90, 60), noise(10, 7, 5)];
  return (x, y) => {
    const bare = chips(x, y) > 0.93;
    const dull = 0.8 + 0.3 * dirt(x, y);
    if (bare) return [0.3 * dull, 0.26 * dull, 0.2 * dull];
    return Math.abs(y - 0.5) < 0.075 ? [0.62 * dull, 0.58 * dull, 0.5 * dull] : [0.4 * dull, 0.055 * dull, 0.03 * dull];
  };
}

/** Pictures of what stands around, drawn once. */
const drawn = new Map<string, THREE.DataTexture>();

function textureOf(name: string, surface: Surface): THREE.DataTexture {
  const before = drawn.get(name);
  if (before) return before;
  // linear, which takes less to read than sRGB where graphics are computed in software
  const data = new Uint8ClampedArray(4 * SIDE * SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const colour = surface((x + 0.5) / SIDE, (y + 0.5) / SIDE);
      for (let c = 0; c < 3; c++) data[4 * (y * SIDE + x) + c] = 255 * colour[c];
      data[4 * (y * SIDE + x) + 3] = 255;
    }
  const texture = new THREE.DataTexture(data, SIDE, SIDE);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.minFilter = THREE.LinearMipmapNearestFilter;
  texture.magFilter = THREE.LinearFilter;
  texture.generateMipmaps = true;
  texture.anisotropy = 1;
  texture.needsUpdate = true;
  drawn.set(name, texture);
  return texture;
}

/** @param across - How wide the ground is, sides of the card. */
export function boardsTexture(across: number): THREE.DataTexture {
  const texture = textureOf('boards', boards());
  texture.repeat.set(across / COVERS, across / COVERS);
  return texture;
}

/** The same, read along what is seen at a slant: no lines far away, at a sixth more of a frame. */
export function fineBoards(plain: THREE.DataTexture): THREE.DataTexture {
  const before = drawn.get('fine boards');
  if (before) return before;
  const texture = plain.clone();
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.anisotropy = 4;
  texture.needsUpdate = true;
  drawn.set('fine boards', texture);
  return texture;
}
export const postTexture = (): THREE.DataTexture => textureOf('post', post());
export const floatTexture = (): THREE.DataTexture => textureOf('float', float());
/** Where a surface is plain: it shares its shader with those that are not. */
export const plainTexture = (): THREE.DataTexture => (white ??= makeWhite());
let white: THREE.DataTexture | null = null;
function makeWhite(): THREE.DataTexture {
  const texture = new THREE.DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
  texture.needsUpdate = true;
  return texture;
}
