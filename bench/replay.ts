// 5,000 mixed strokes at 4096², drawn again on one thread, beside librsvg (through sharp) painting the same discs and lines.
import {
  BRUSH_DEFAULTS,
  makeMask,
  makePicture,
  NO_MAPS,
  StrokePainter,
  type Brush,
  type BrushStroke,
} from '@lithe-sieve/core/testing';
import sharp from 'sharp';

const SIDE = 4096;
const STROKES = 5000;
const POINTS = 20;

let seed = 7;
const next = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 4294967296;

const BRUSHES: Partial<Brush>[] = [
  { diameter: 4 },
  { diameter: 12 },
  { diameter: 40 },
  { diameter: 90 },
  { diameter: 30, hardness: 0.3 },
  { diameter: 20, flow: 0.3 },
  { diameter: 30, tip: 'ragged' },
  { diameter: 1, tip: 'whole texels' },
];

/** Some 150 texels long, as a hand draws them. */
function randomStroke(i: number): BrushStroke {
  const path: number[] = [];
  let [x, y, heading] = [next() * SIDE, next() * SIDE, 2 * Math.PI * next()];
  for (let j = 0; j < POINTS; j++) {
    path.push(Math.round(x * 64), Math.round(y * 64), 1023);
    heading += next() - 0.5;
    x += 8 * Math.cos(heading);
    y += 8 * Math.sin(heading);
  }
  const brush = { ...BRUSH_DEFAULTS, ...BRUSHES[i % BRUSHES.length] };
  return { id: `stroke-${i}`, kind: 'brush', effect: i % 2 ? 'cut' : 'restore', seed: i, brush, path };
}

const strokes = Array.from({ length: STROKES }, (_, i) => randomStroke(i));
const mask = makeMask(SIDE, SIDE, new Uint8Array(SIDE * SIDE).fill(200));
const state = { colour: makePicture(1, 1, new Uint8Array(4)), mask, maps: NO_MAPS };
const env = {
  scale: 1,
  allocate: (bytes: number) => new Uint8Array(bytes),
  checkpoint: () => undefined,
  bands: (height: number, work: (from: number, to: number) => void) => work(0, height),
  tip: () => state.colour,
};

const svg = Buffer.from(
  `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}"><rect width="100%" height="100%" fill="#c8c8c8"/>${strokes
    .map(({ path, brush, effect }) => {
      const points = Array.from({ length: POINTS }, (_, j) => `${path[3 * j] / 64},${path[3 * j + 1] / 64}`).join(' ');
      return `<polyline points="${points}" fill="none" stroke="${effect === 'cut' ? '#000' : '#fff'}" stroke-opacity="${brush.flow}" stroke-width="${brush.diameter}" stroke-linecap="round" stroke-linejoin="round"/>`;
    })
    .join('')}</svg>`,
);
sharp.concurrency(1);

for (let round = 0; round < 3; round++) {
  const ours = performance.now();
  new StrokePainter(SIDE, SIDE).paint(strokes, state, '', env);
  const theirs = performance.now();
  await sharp(svg, { unlimited: true }).raw().toBuffer();
  const end = performance.now();
  console.log(
    `${STROKES} mixed strokes at ${SIDE}²: ${Math.round(theirs - ours)} ms (target 10000); librsvg, plain lines of the same widths: ${Math.round(end - theirs)} ms; ratio ${((theirs - ours) / (end - theirs)).toFixed(2)}`,
  );
}
