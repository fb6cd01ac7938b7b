// npm run accuracy: how near the masks come to the generator's exact ones, on seeds that no default was chosen by.
// Prints the table of docs/accuracy.md. The last column needs OpenCV, see grab-cut.ts; without it, it stays empty.
import {
  describeSource,
  evaluateRun,
  findRegions,
  linearToSrgb,
  makeMask,
  makeStep,
  srgbToLinear,
  startingRun,
  toRgba8,
  type Mask,
  type Picture,
  type StepEntry,
} from '@lithe-sieve/core/testing';
import { drawCordgrass, drawLeafScan, drawMane } from '@lithe-sieve/demo';
import { grabCut } from './grab-cut.ts';

const SIDE = 1024;
const SEEDS = [2101, 2102, 2103];
const STRAY = 64;

interface Score {
  iou: number;
  error: number;
  strays: number;
}

function score(found: Mask, exact: Mask): Score {
  let both = 0;
  let either = 0;
  let error = 0;
  for (let i = 0; i < exact.data.length; i++) {
    const [a, b] = [found.data[i] >= 128, exact.data[i] >= 128];
    both += Number(a && b);
    either += Number(a || b);
    error += Math.abs(found.data[i] - exact.data[i]) / 255;
  }
  const islands = (m: Mask) =>
    findRegions(m.data, m.width, m.height, { low: 128, high: 255, connectivity: 8 }).areas.filter((n) => n < STRAY)
      .length;
  return { iou: both / either, error: error / exact.data.length, strays: islands(found) - islands(exact) };
}

function run(steps: StepEntry[], picture: Picture, other?: Picture, start?: Mask): Mask {
  const sources = [{ id: 'colour', sha256: 'a', picture }];
  if (other) sources.push({ id: 'other', sha256: 'b', picture: other });
  if (start) {
    const rgba = new Uint8Array(4 * start.data.length);
    start.data.forEach((v, i) => rgba.fill(v, 4 * i, 4 * i + 4));
    sources.push({ id: 'start', sha256: 'c', picture: { ...picture, data: rgba } });
  }
  const { mask, steps: done } = evaluateRun(steps, { sources });
  for (const { error } of done) if (error) throw new Error(error.message);
  return mask;
}

function say({ iou, error, strays }: Score): string {
  return `${iou.toFixed(4)} / ${(255 * error).toFixed(2)} / ${strays}`;
}

const rows: string[][] = [];
const hard = (mask: Mask) =>
  makeMask(
    mask.width,
    mask.height,
    mask.data.map((v) => (v >= 128 ? 255 : 0)),
  );

for (const seed of SEEDS) {
  const { colour, mask } = drawLeafScan(seed, SIDE);
  const picture = toRgba8(colour);
  const facts = describeSource({ format: 'png', raster: colour, bitDepth: 8, palette: false, notes: [] });
  const start = startingRun([{ ref: { id: 'colour', sha256: 'a', fileName: 'leaf.png' }, facts }], () => 'step');
  const cut = grabCut(picture);
  rows.push([
    `leaf scan ${seed}`,
    `from colour (as it starts): ${say(score(run(start, picture), mask))}`,
    `from backdrop: ${say(score(run([makeStep('a', 'from-backdrop')], picture), mask))}`,
    cut ? say(score(cut, mask)) : '',
  ]);
}

for (const seed of SEEDS) {
  const { colour, mask } = drawMane(seed, SIDE);
  const picture = toRgba8(colour);
  const plain = hard(mask);
  const pull = makeStep('a', 'from-channel', { sourceId: 'start', channel: 'red' });
  const fine = run([pull, makeStep('b', 'fine-fringe')], picture, undefined, plain);
  const cut = grabCut(picture);
  rows.push([
    `mane ${seed}`,
    `exact mask made hard: ${say(score(plain, mask))}`,
    `with fine fringe: ${say(score(fine, mask))} (${(score(fine, mask).error / score(plain, mask).error).toFixed(2)} of the error)`,
    cut ? say(score(cut, mask)) : '',
  ]);
}

for (const seed of SEEDS) {
  const { colour, mask } = drawCordgrass(seed, SIDE);
  const own = toRgba8(colour);
  const [dark, pale] = [over(own, [28, 30, 33], 0.1), over(own, [206, 202, 196], 0.12)];
  const pair = run([makeStep('a', 'from-two-backdrops', { sourceId: 'other' })], dark, pale);
  const single = run([makeStep('a', 'from-backdrop')], pale);
  const cut = grabCut(pale);
  rows.push([
    `cordgrass ${seed}, two backdrops`,
    `from backdrop, the pale one alone: ${say(score(single, mask))}`,
    `from two backdrops: ${say(score(pair, mask))}`,
    cut ? say(score(cut, mask)) : '',
  ]);
}

/** Porter–Duff over, in linear light, on a backdrop that gets darker towards a corner. */
function over({ width, height, data }: Picture, backdrop: number[], fall: number): Picture {
  const out = new Uint8Array(data.length);
  for (let i = 0; i < width * height; i++) {
    const light = 1 - (fall * ((i % width) / width + Math.floor(i / width) / height)) / 2;
    const a = data[4 * i + 3] / 255;
    for (let c = 0; c < 3; c++) {
      const mixed = a * srgbToLinear(data[4 * i + c] / 255) + (1 - a) * srgbToLinear((backdrop[c] * light) / 255);
      out[4 * i + c] = Math.round(255 * linearToSrgb(mixed));
    }
    out[4 * i + 3] = 255;
  }
  return { width, height, channels: 4, data: out };
}

console.log('| picture | simpler | the step | GrabCut (OpenCV) |\n| --- | --- | --- | --- |');
for (const row of rows) console.log(`| ${row.join(' | ')} |`);
