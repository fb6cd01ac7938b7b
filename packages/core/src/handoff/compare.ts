import type { DecodedPicture } from '../codec/picture.ts';
import { asWords, type Raster, type Samples } from '../raster/raster.ts';
import type { Add } from './file-format.ts';

const UPRIGHT = 'white kept, black dropped';

const bitsOf = ({ data }: Raster<Samples>) => (data instanceof Uint8Array ? 8 : 16);

/** A picture that was read out of a file beside the one that was to be written. */
export function checkPixels(decoded: DecodedPicture, expected: Raster<Samples>, hasMask: boolean, add: Add): void {
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
    if (hasMask) add('polarity', true, UPRIGHT);
    add('texels', true, 'equal to the Bench, texel for texel');
    return;
  }
  if (hasMask) checkPolarity(raster, expected, add);
  add('texels', false, `${countDifferent(raster, expected)} differ`);
}

/** Compares words: a quarter of the time of samples, and nearly always all there is to do. */
export function equalSamples(found: Raster<Samples>, expected: Raster<Samples>): boolean {
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
