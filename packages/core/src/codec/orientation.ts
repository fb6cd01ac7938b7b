import { allocateHeap, type Allocate, type Raster, type Samples } from '../raster/raster.ts';
import { ByteReader } from './byte-reader.ts';

const ORIENTATION_TAG = 0x0112;

/** Orientation tag, 1–8, of an Exif block (TIFF structure); 1 where it holds none or cannot be read. */
export function exifOrientation(block: Uint8Array): number {
  const start = String.fromCharCode(...block.subarray(0, 4)) === 'Exif' ? 6 : 0;
  const body = block.subarray(start);
  try {
    const little = body[0] === 0x49;
    const reader = new ByteReader(body, little, 'Exif block');
    const at = reader.u32(4);
    const count = reader.u16(at);
    for (let i = 0; i < count; i++) {
      const entry = at + 2 + 12 * i;
      if (reader.u16(entry) === ORIENTATION_TAG) return legal(reader.u16(entry + 8));
    }
  } catch {
    return 1; // a damaged note beside the picture must not cost the picture
  }
  return 1;
}

function legal(orientation: number): number {
  return orientation >= 1 && orientation <= 8 ? orientation : 1;
}

/** The picture upright: where row 0 and column 0 lie by the tag (TIFF 6.0, Orientation; Exif 2.3 the same). */
export function upright<S extends Samples>(
  raster: Raster<S>,
  orientation: number,
  allocate: Allocate = allocateHeap,
): Raster<S> {
  if (legal(orientation) === 1) return raster;
  const { width, height, channels, data } = raster;
  const turned = orientation >= 5;
  const [w, h] = turned ? [height, width] : [width, height];
  const bytes = allocate(data.byteLength);
  const out = (data instanceof Uint8Array ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, data.length)) as S;
  const mirrorX = [2, 3, 7, 8].includes(orientation); // of the stored picture, before rows and columns are exchanged
  const mirrorY = [3, 4, 6, 7].includes(orientation);
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const sx = turned ? y : x;
      const sy = turned ? x : y;
      const i = ((mirrorY ? height - 1 - sy : sy) * width + (mirrorX ? width - 1 - sx : sx)) * channels;
      for (let c = 0; c < channels; c++) out[o++] = data[i + c];
    }
  }
  return { width: w, height: h, channels, data: out };
}

/** What is said of a picture that was turned. */
export function orientationNotes(orientation: number): string[] {
  return legal(orientation) === 1 ? [] : ['Rotated by its orientation tag.'];
}
