// The clip at every distance and in blocks: what holding and keeping coverage come to, on generated shapes, demo pieces and
// real pictures that have a mask; and their times at 4096², one thread, encoders beside a native one in the same run.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import {
  coverageAt,
  decodeBlocks,
  distanceField,
  drawClip,
  encodeBlocks,
  filteredMaskMips,
  fringeOf,
  histogram,
  holdAtDistance,
  levelFigures,
  localCoverage,
  makeMask,
  makePicture,
  maskMips,
  scaledToCoverage,
  whatBreaks,
  type BlockFormat,
  type LevelFigures,
  type Mask,
} from '@lithe-sieve/core/testing';
import { DEMO_PIECES } from '../packages/demo/src/index.ts';
import { drawShape, edgeShift, hair, lace, net, type Shape } from '../packages/core/test/helpers/webs.ts';

sharp.concurrency(1);
const THRESHOLD = 128;
const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const worst = (figures: LevelFigures[]) => Math.max(...figures.map((f) => Math.abs(f.drift)));
const points = (share: number) => (100 * share).toFixed(2).padStart(6);

interface Subject {
  name: string;
  mask: Mask;
  shape?: Shape;
}

const SIDE = 512;
const SHAPES: [string, Shape][] = [
  ['net', net(36, 5)],
  ['lace', lace(44.3, 2.6)],
  ['hair', hair(7, SIDE, 60)],
];
const subjects: Subject[] = [
  ...SHAPES.map(([name, shape]) => ({ name, shape, mask: drawShape(shape, SIDE, SIDE) })),
  ...DEMO_PIECES.map((draw) => draw()).map(({ name, mask }) => ({ name, mask })),
];
for (const [width, height] of [
  [1000, 750],
  [375, 375],
]) {
  for (const [name, shape] of SHAPES) {
    subjects.push({ name: `${name}, ${width} x ${height}`, mask: drawShape(shape, width, height) });
  }
}
const REAL = join(import.meta.dirname, '../../shared/real');
for (const [file, channel] of [
  ['horse.png', 3],
  ['snowy_shrub.png', 3],
  ['plant_matte_infoflow.png', 0],
] as const) {
  if (!existsSync(join(REAL, file))) continue;
  const { data, info } = await sharp(join(REAL, file))
    .extractChannel(channel)
    .raw()
    .toBuffer({ resolveWithObject: true });
  subjects.push({ name: file, mask: makeMask(info.width, info.height, new Uint8Array(data)) });
}

console.log('levels down to 32 texels: largest drift and mean local error, in points; edge shift at 4x, in texels');
console.log(
  `${'mask'.padEnd(24)}  plain         scale         local         held          held, Kaiser  edge plain, held  out of reach`,
);
const ratios: number[] = [];
for (const { name, mask, shape } of subjects) {
  const near = (levels: Mask[]) =>
    levelFigures(mask, levels, THRESHOLD).filter((f) => Math.max(f.width, f.height) >= 32);
  const plain = maskMips(mask);
  const coverage = coverageAt(histogram(mask), THRESHOLD);
  const held = holdAtDistance(mask, { cutoff: 0.5 });
  const rows = [
    near(plain),
    near(plain.map((level) => scaledToCoverage(level, THRESHOLD, coverage))),
    near(localCoverage(mask, plain, THRESHOLD)),
    near(maskMips(held.mask)),
    near(filteredMaskMips(held.mask, { filter: 'Kaiser' })),
  ];
  const errors = rows.map((r) => mean(r.map((f) => f.localError)));
  ratios.push(errors[3] / errors[1]);
  const shifts = shape
    ? `${edgeShift(mask, THRESHOLD, shape).toFixed(2)}, ${edgeShift(held.mask, THRESHOLD, shape).toFixed(2)}`
    : '–';
  const columns = rows.map((r, i) => `${points(worst(r))} ${points(errors[i])}`).join(' ');
  console.log(`${name.padEnd(24)} ${columns}  ${shifts.padEnd(16)}  ${held.unreachable}`);
}
console.log(`local error held / scale, mean over all: ${mean(ratios).toFixed(2)}`);

const BIG = 4096;
const tile = (mask: Mask) => {
  const data = new Uint8Array(BIG * BIG);
  for (let y = 0; y < BIG; y++) {
    for (let x = 0; x < BIG; x++) data[y * BIG + x] = mask.data[(y % mask.height) * mask.width + (x % mask.width)];
  }
  return makeMask(BIG, BIG, data);
};

function time(work: () => unknown, rounds = 3): number {
  let best = Infinity;
  for (let i = 0; i < rounds; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best;
}

console.log(`\n${BIG}², one thread, ms`);
for (const { name, mask } of subjects.slice(0, 6)) {
  const big = tile(mask);
  const plain = maskMips(big);
  const hold = time(() => holdAtDistance(big, { cutoff: 0.5 }));
  const local = time(() => localCoverage(big, plain, THRESHOLD));
  console.log(`${name.padEnd(24)} hold ${hold.toFixed(0).padStart(5)}   local mips ${local.toFixed(0).padStart(5)}`);
}
{
  const { name, mask } = subjects[2];
  const big = tile(mask);
  const levels = [big, ...maskMips(big)];
  const times = {
    'what breaks': time(() => whatBreaks(levels, THRESHOLD), 1),
    fringe: time(() => fringeOf(big, THRESHOLD)),
    'drawn hashed': time(() => drawClip(big, { cutoff: 0.5, opacity: 1 }, { by: 'hashed', samples: 4 })),
    'drawn by samples': time(() => drawClip(big, { cutoff: 0.5, opacity: 1 }, { by: 'coverage', samples: 4 })),
    'distances at 1/4': time(() => distanceField(big, THRESHOLD, 4), 1),
  };
  for (const [what, ms] of Object.entries(times))
    console.log(`${`${name}, ${what}`.padEnd(24)} ${ms.toFixed(0).padStart(6)}`);
}

const leaf = DEMO_PIECES[0]();
const colour = leaf.files[0].raster;
const picture = new Uint8Array(BIG * BIG * 4);
for (let y = 0, o = 0; y < BIG; y++) {
  for (let x = 0; x < BIG; x++, o += 4) {
    const i = (y % colour.height) * colour.width + (x % colour.width);
    for (let c = 0; c < 3; c++) picture[o + c] = colour.data[i * colour.channels + c];
    picture[o + 3] = leaf.mask.data[i];
  }
}
const big = makePicture(BIG, BIG, picture);
const opaque = makePicture(
  BIG,
  BIG,
  Uint8Array.from(picture, (v, i) => (i % 4 === 3 ? 255 : v)),
);
for (const format of ['BC1', 'BC3', 'BC4', 'BC7'] as const) {
  const source = format === 'BC4' ? tile(leaf.mask) : big;
  const ms = time(() => encodeBlocks(source, { format, cutoff: 0.5 }), format === 'BC7' ? 1 : 3);
  const decoded = decodeBlocks(encodeBlocks(source, { format, cutoff: 0.5 }));
  let flips = 0;
  for (let i = 0; i < BIG * BIG; i++) {
    const alpha = format === 'BC4' ? decoded.data[i] : decoded.data[4 * i + 3];
    if (alpha >= THRESHOLD !== picture[4 * i + 3] >= THRESHOLD) flips++;
  }
  console.log(`${format.padEnd(24)} ${ms.toFixed(0).padStart(6)}   flips ${flips}`);
}

/** Installed for this run alone; it needs Debian's libomp5-14. */
async function beside(): Promise<void> {
  const dir = mkdtempSync(join(tmpdir(), 'lithe-bc-'));
  execFileSync('npm', ['install', '--prefix', dir, '--no-audit', '--no-fund', '@gpu-tex-enc/bc@1.0.11'], {
    stdio: 'pipe',
  });
  execFileSync('apt-get', ['install', '-y', 'libomp5-14'], { stdio: 'pipe' });
  const encoder = join(dir, 'node_modules/@gpu-tex-enc/bc/bin/linux/bc7enc');
  const png = join(dir, 'opaque.png');
  await sharp(opaque.data, { raw: { width: BIG, height: BIG, channels: 4 } })
    .removeAlpha()
    .png({ compressionLevel: 1 })
    .toFile(png);
  const error = (data: Uint8Array) => {
    let sum = 0;
    for (let i = 0; i < data.length; i++) if (i % 4 !== 3) sum += (data[i] - opaque.data[i]) ** 2;
    return sum / (BIG * BIG * 3);
  };
  const cases: [BlockFormat, string[], number][] = [
    ['BC1', ['-1', '-L0'], 128],
    ['BC7', ['-C', '-u0', '-p0'], 148],
  ];
  for (const [format, flags, header] of cases) {
    const out = join(dir, `${format}.dds`);
    const env = { ...process.env, OMP_NUM_THREADS: '1' };
    const start = performance.now();
    execFileSync(encoder, [...flags, '-g', '-o', png, out], { stdio: 'pipe', env });
    const theirs = performance.now() - start;
    const ours = time(() => encodeBlocks(opaque, { format }), format === 'BC7' ? 1 : 3);
    const data = new Uint8Array(readFileSync(out).subarray(header));
    const [a, b] = [encodeBlocks(opaque, { format }).data, data].map((bytes) =>
      error(decodeBlocks({ format, width: BIG, height: BIG, data: bytes }).data),
    );
    console.log(
      `${`${format}, opaque`.padEnd(24)} ours ${ours.toFixed(0)} ms, error ${a.toFixed(2)}; native, PNG read too ${theirs.toFixed(0)} ms, error ${b.toFixed(2)}`,
    );
  }
}
await beside().catch((error: unknown) => console.log(`no native encoder here: ${String(error).slice(0, 120)}`));
