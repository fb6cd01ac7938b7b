import { fromLabRows, makeLabRows, toLabRows, type LabRows } from '../colour/lab-rows.ts';
import { lowFrequencies, lowRow } from '../mask/low-frequencies.ts';
import { asWords, makePicture } from '../raster/raster.ts';
import { extractChannel } from './from-channel.ts';
import type { StepKind } from './step.ts';

export interface FlattenLightParams {
  /** Changes of light wider than about this many texels are evened out. */
  size: number;
  amount: number;
}

/**
 * Lightness divided by its own low frequencies over what is kept: what is left of a scan's uneven light goes, detail
 * stays. Tint and richness scale with the lightness, as they do when a light is brighter.
 */
export const flattenLight: StepKind<FlattenLightParams> = {
  stretch: 'colour',
  purpose: 'recolour',
  label: 'Flatten light',
  hint: 'Evens out light that falls from one side or from the middle, by the wide changes of lightness of what is kept.',
  defaults: { size: 256, amount: 1 },
  ranges: {
    size: { min: 8, max: 4096, digits: 0, unit: 'texels', logarithmic: true },
    amount: { min: 0, max: 1 },
  },
  pullsMask: false,
  apply({ colour, mask }, { size, amount }, env) {
    const { width, height } = colour;
    const { data } = mask;
    const line = new Float32Array(width);
    const low = lowFrequencies(extractChannel(colour, 'lightness', env), mask, size * env.scale, env);
    let weight = 0;
    let sum = 0;
    env.bands(height, (y0, y1) => {
      for (let y = y0; y < y1; y++) {
        lowRow(low, y, colour, line);
        for (let x = 0, i = y * width; x < width; x++, i++) {
          const alpha = data[i];
          weight += alpha;
          sum += alpha * line[x];
        }
      }
    });
    if (weight === 0) return { notice: 'The mask keeps nothing, so there is no light to even out.' };
    const mean = sum / weight;
    const out = env.allocate(colour.data.length);
    const [from, to] = [asWords(colour.data), asWords(out)];
    const rows = makeLabRows(width);
    env.bands(height, (y0, y1) => {
      for (let y = y0; y < y1; y++) {
        lowRow(low, y, colour, line);
        toLabRows(from, y * width, (y + 1) * width, rows);
        scaleRow(rows, line, mean, amount);
        fromLabRows(rows, from, to, y * width, (y + 1) * width);
      }
    });
    return { colour: makePicture(width, height, out) };
  },
};

function scaleRow({ L, a, b }: LabRows, light: Float32Array, mean: number, amount: number): void {
  for (let x = 0; x < light.length; x++) {
    let gain = mean / (light[x] > DARKEST ? light[x] : DARKEST);
    if (gain > MOST_GAIN) gain = MOST_GAIN;
    gain = 1 + amount * (gain - 1);
    L[x] *= gain;
    a[x] *= gain;
    b[x] *= gain;
  }
}

/** Value of 255: where it is darker than this there is nothing to bring up but grain. */
const DARKEST = 4;
const MOST_GAIN = 6;
