import type { DecodedPicture } from '../codec/picture.ts';
import { readDdsLevels } from '../codec/dds/read.ts';
import { toPlainError } from '../errors.ts';
import { readCardGlb, type ReadGlb } from '../glb/read.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { asWords, type Mask, type Raster, type Samples } from '../raster/raster.ts';
import { histogram } from '../sieve/histogram.ts';
import { keptReadAsColour } from '../sieve/read-as-colour.ts';
import { thresholdByte } from '../math/threshold.ts';
import type { FilePlan } from './file-plan.ts';
import type { HandOffFile, PackTools } from './profile.ts';

/** One thing looked at in one written file. */
export interface Check {
  file: string;
  what: string;
  ok: boolean;
  found: string;
}

/** Reads every written file again and compares it with what was to be written. */
export async function readBack(files: readonly HandOffFile[], doc: PieceDoc, tools: PackTools): Promise<Check[]> {
  const checks: Check[] = [];
  for (const [i, file] of files.entries()) {
    tools.progress?.(i / files.length, `Reading back ${file.name}`);
    const add = (what: string, ok: boolean, found: string) => checks.push({ file: file.name, what, ok, found });
    try {
      if (file.levels) {
        checkLevels(file.bytes, file.plan, file.levels, doc, add);
        continue;
      }
      let png = file.bytes;
      if (file.plan.extension === 'glb') {
        const issues = await tools.validateGlb(file.bytes);
        add('glTF validator', issues.length === 0, issues.join('; ') || 'no error, no warning');
        const glb = readCardGlb(file.bytes);
        checkMaterial(glb.material, doc, add);
        png = glb.image;
        for (const { slot, raster } of file.textures ?? []) {
          const own = glb.imageOf((material) => slot.textureOf(material));
          if (own) checkTexture(slot.label, await tools.decodePng(own), raster, add);
          else add(`${slot.label} texture`, false, 'missing');
        }
        if (file.leftOut?.length) add('maps without a place in glTF', true, `left out: ${file.leftOut.join(', ')}`);
      }
      const decoded = await tools.decodePng(png);
      checkPixels(decoded, file, add);
      if (file.plan.holds === 'mask') sayHowToRead(decoded, file.plan, doc, add);
    } catch (error) {
      add('opens', false, toPlainError(error).message);
    }
  }
  return checks;
}

type Add = (what: string, ok: boolean, found: string) => void;

function checkMaterial(found: ReadGlb['material'], { material }: PieceDoc, add: Add): void {
  const mode = found.alphaMode.toLowerCase();
  add('alpha mode', mode === material.mode, mode);
  if (material.mode === 'mask') add('cutoff', found.alphaCutoff === material.cutoff, String(found.alphaCutoff));
  add('double-sided', found.doubleSided === material.doubleSided, found.doubleSided ? 'yes' : 'no');
  add('opacity factor', found.opacity === material.opacity, String(found.opacity));
}

function checkLevels(
  bytes: Uint8Array,
  { texels }: FilePlan,
  { wanted, read }: NonNullable<HandOffFile['levels']>,
  { material }: PieceDoc,
  add: Add,
): void {
  const found = readDdsLevels(bytes);
  const [first] = found.levels;
  add('format', found.format === texels, found.format);
  add('size', first.width === read[0].width && first.height === read[0].height, `${first.width} × ${first.height}`);
  add('mip levels', found.levels.length === read.length, String(found.levels.length));
  const pairs = read.map((level, i) => [level, found.levels[i]] as const);
  const different = pairs.filter(([level, is]) => !is || !equalSamples(is, level)).length;
  add('texels', different === 0, different === 0 ? 'every level as it was encoded' : `${different} levels differ`);
  if (material.mode !== 'mask') return;
  const threshold = thresholdByte(material.cutoff, material.opacity);
  const flips = wanted.reduce((sum, level, i) => sum + countFlips(level, found.levels[i] ?? level, threshold), 0);
  add('clip', flips === 0, flips === 0 ? 'every texel of every level on its side' : `${flips} texels changed side`);
}

function countFlips(wanted: Raster, found: Raster, threshold: number): number {
  let flips = 0;
  for (let i = 3; i < wanted.data.length; i += 4) {
    if (wanted.data[i] >= threshold !== found.data[i] >= threshold) flips++;
  }
  return flips;
}

function checkPixels(decoded: DecodedPicture, { plan, raster: expected }: HandOffFile, add: Add): void {
  const { raster } = decoded;
  const size = `${raster.width} × ${raster.height}`;
  const sameSize = raster.width === expected.width && raster.height === expected.height;
  add('size', sameSize, size);
  add('bit depth', decoded.bitDepth === bitsOf(expected), `${decoded.bitDepth} bits`);
  const hasAlpha = raster.channels === 4 || raster.channels === 2;
  const wantsAlpha = expected.channels === 4;
  add('alpha', hasAlpha === wantsAlpha && raster.channels === expected.channels, hasAlpha ? 'present' : 'none');
  if (!sameSize || raster.channels !== expected.channels) return;
  if (equalSamples(raster, expected)) {
    if (hasMask(plan)) add('polarity', true, UPRIGHT);
    add('texels', true, 'equal to the Bench, texel for texel');
    return;
  }
  if (hasMask(plan)) checkPolarity(raster, expected, add);
  add('texels', false, `${countDifferent(raster, expected)} differ`);
}

function checkTexture(what: string, { raster }: DecodedPicture, expected: Raster, add: Add): void {
  const same = raster.channels === expected.channels && raster.data.length === expected.data.length;
  const ok = same && equalSamples(raster, expected);
  add(`${what} texture`, ok, ok ? 'equal to what was packed, texel for texel' : 'differs');
}

/** No check of the file, but what it comes to where it is opened as most pictures are. */
function sayHowToRead({ raster }: DecodedPicture, plan: FilePlan, { material }: PieceDoc, add: Add): void {
  const byteEach = raster.channels === 1 && raster.data instanceof Uint8Array && !plan.divisor;
  const kept = byteEach ? keptReadAsColour(histogram(raster as Mask), material) : null;
  const wrong = kept && `; as sRGB ${percent(kept.asColour)} would be kept instead of ${percent(kept.meant)}`;
  add('to be read as', true, `linear${wrong ?? ''}`);
}

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

const UPRIGHT = 'white kept, black dropped';

const bitsOf = ({ data }: Raster<Samples>) => (data instanceof Uint8Array ? 8 : 16);
const hasMask = ({ holds }: FilePlan) => holds === 'mask' || holds === 'colour and mask';

/** Compares words: a quarter of the time of samples, and nearly always all there is to do. */
function equalSamples(found: Raster<Samples>, expected: Raster<Samples>): boolean {
  if (bitsOf(found) !== bitsOf(expected)) return false;
  const [x, y] = [asBytes(found.data), asBytes(expected.data)];
  const a = asWords(x);
  const b = asWords(y);
  for (let i = 0; i < b.length; i++) if (a[i] !== b[i]) return false;
  for (let i = b.length << 2; i < y.length; i++) if (x[i] !== y[i]) return false;
  return true;
}

function asBytes({ buffer, byteOffset, byteLength }: Samples): Uint8Array {
  return new Uint8Array(buffer, byteOffset, byteLength);
}

/** Whether the written mask keeps what the Bench keeps, or the opposite. */
function checkPolarity(found: Raster<Samples>, expected: Raster<Samples>, add: Add): void {
  const step = expected.channels;
  let same = 0;
  let opposite = 0;
  for (let i = step - 1; i < expected.data.length; i += step) {
    if (found.data[i] === expected.data[i]) same++;
    if (found.data[i] === 255 - expected.data[i]) opposite++;
  }
  add('polarity', same >= opposite, same >= opposite ? UPRIGHT : 'inverted');
}

function countDifferent(found: Raster<Samples>, expected: Raster<Samples>): number {
  let different = 0;
  for (let i = 0; i < expected.data.length; i++) if (found.data[i] !== expected.data[i]) different++;
  return different;
}
