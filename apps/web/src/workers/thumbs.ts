import {
  asWords,
  mapsOf,
  type Mask,
  type Picture,
  type Raster,
  type Samples,
  type StepResult,
  type Stretch,
} from '@lithe-sieve/core';
import type { Thumb } from './types';

const SIDE = 128;
const OPAQUE = 0xff000000;
const made = new WeakMap<Raster<Samples>, Thumb>();

/** What a step changed last, small: its mask, its colour, or another map; where it changed nothing, its stretch says. */
export function stepThumb(step: StepResult, stretch: Stretch): Thumb {
  const { state } = step;
  if (!state) throw new Error('The run kept no states.');
  if (stretch === 'fit') return colourThumb(state.colour); // all maps are laid alike
  const map = step.changes.at(-1) ?? (stretch === 'mask' ? 'mask' : 'colour');
  if (map === 'mask') return maskThumb(step.mask);
  const raster = mapsOf(state).get(map);
  return map === 'colour' || !raster ? colourThumb(state.colour) : mapThumb(raster);
}

/** The mask after a step, small. */
export function maskThumb(mask: Mask): Thumb {
  return once(mask, (places, words) => {
    const { data } = mask;
    for (let o = 0, i = 0; o < words.length; o++, i += 4) {
      const sum = data[places[i]] + data[places[i + 1]] + data[places[i + 2]] + data[places[i + 3]];
      words[o] = OPAQUE | ((sum >> 2) * 0x010101);
    }
  });
}

/** The colour after a step, small, alpha left aside. */
export function colourThumb(picture: Picture): Thumb {
  return once(picture, (places, words) => {
    const data = asWords(picture.data);
    const quarter = (w: number) => (w >>> 2) & 0x3f3f3f; // of red, green and blue at once
    for (let o = 0, i = 0; o < words.length; o++, i += 4) {
      words[o] =
        OPAQUE |
        (quarter(data[places[i]]) +
          quarter(data[places[i + 1]]) +
          quarter(data[places[i + 2]]) +
          quarter(data[places[i + 3]]));
    }
  });
}

/** A map of any depth, small, by the same four texels: few of a large map are looked at. */
function mapThumb(raster: Raster<Samples>): Thumb {
  return once(raster, (places, words) => {
    const { data, channels } = raster;
    const shift = data instanceof Uint16Array ? 10 : 2; // the sum of four as a byte
    const at = (i: number, channel: number) => {
      let sum = 0;
      for (let k = 0; k < 4; k++) sum += data[channels * places[i + k] + channel];
      return sum >> shift;
    };
    for (let o = 0, i = 0; o < words.length; o++, i += 4) {
      const red = at(i, 0);
      words[o] = OPAQUE | (channels < 3 ? red * 0x010101 : (at(i, 2) << 16) | (at(i, 1) << 8) | red);
    }
  });
}

/** A step that changed nothing hands the same raster on, and its thumb with it. */
function once(raster: Raster<Samples>, fill: (places: Uint32Array, words: Uint32Array) => void): Thumb {
  const known = made.get(raster);
  if (known) return known;
  const scale = Math.min(1, SIDE / Math.max(raster.width, raster.height));
  const width = Math.max(1, Math.round(raster.width * scale));
  const height = Math.max(1, Math.round(raster.height * scale));
  const rgba = new Uint8ClampedArray(width * height * 4);
  fill(placesOf(raster, width, height), new Uint32Array(rgba.buffer));
  const thumb = { width, height, rgba };
  made.set(raster, thumb);
  return thumb;
}

let lastPlaces: { of: string; places: Uint32Array } | null = null;

/** In shares of what a small texel stands for: no two in one row or column, so that stripes and checkers become grey (a rotated grid). */
const FOUR = [
  [0.125, 0.625],
  [0.375, 0.125],
  [0.625, 0.875],
  [0.875, 0.375],
] as const;

/** For every small texel, four texels of the raster. */
function placesOf(raster: Raster<Samples>, width: number, height: number): Uint32Array {
  const of = `${raster.width}x${raster.height}`;
  if (lastPlaces?.of === of) return lastPlaces.places;
  const places = new Uint32Array(width * height * 4);
  let o = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      for (const [across, down] of FOUR) {
        const row = Math.floor(((y + down) * raster.height) / height);
        places[o++] = row * raster.width + Math.floor(((x + across) * raster.width) / width);
      }
    }
  }
  lastPlaces = { of, places };
  return places;
}
