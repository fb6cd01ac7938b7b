import type { Mask, Picture } from '@lithe-sieve/core';
import { PIECE } from './draw-worker.ts';

export const [WIDTH, HEIGHT] = [256, 192];
export const ALL = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
export const LINEN = ['215,208,193', '192,184,165'];
export const MATERIAL = { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: true };

/** Colours all over, and a mask of soft blobs of many sizes with plain texels between. */
export function pictureOf(width: number, height: number): { colour: Picture; mask: Mask } {
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

export const ON_CANVAS = { canvas: { width: WIDTH, height: HEIGHT }, pixelRatio: 1 };
export const placed = (id: string, rect = ALL, piece = PIECE) => ({ id, piece, rect });

export function flat(more: object = {}, at = placed('flat')) {
  const look = { centre: { x: WIDTH / 2, y: HEIGHT / 2 }, zoom: 1, picture: { width: WIDTH, height: HEIGHT } };
  const shown = { mode: 'kept', mapLook: 'whole', beneath: false, softMarked: true };
  return { kind: 'flat', ...at, look, ...shown, ...more };
}

export function lit({ camera, ...more }: { camera?: object; [other: string]: unknown } = {}, at = placed('lit')) {
  const around = { kind: 'around', azimuth: 0, elevation: 0, distance: 2, middle: [0, 0.5, 0], ...camera };
  return { kind: 'lit', ...at, camera: around, environment: 'dark', drawn: { by: 'hard', samples: 4 }, ...more };
}

/** From sRGB. */
export const linear = (byte: number) => (byte / 255 <= 0.04045 ? byte / 3294.6 : ((byte / 255 + 0.055) / 1.055) ** 2.4);

/** Of the camera of the Stand, degrees from top to bottom. */
export const FIELD_OF_VIEW = 34;
