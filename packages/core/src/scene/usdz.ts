import { unzipSync, zipSync, type Zippable } from 'fflate/browser';
import { SieveError } from '../errors.ts';

/** Where the bytes of each file begin is a multiple of this (USDZ specification 1.3, "Layout"). */
const ALIGNED = 64;
const LOCAL_HEADER = 30;
/** Id and length of an extra field (PKWARE APPNOTE 4.5.1). */
const EXTRA_HEADER = 4;
/** Any that no other program reads: the field is room and nothing else. */
const PADDING_ID = 0x1986;
/** 1980-01-01, the earliest that a zip can say, so that the same files give the same bytes. */
const MTIME = Date.UTC(1980, 0, 1, 12);

/**
 * A package of a layer and its pictures: a zip with nothing compressed, each file aligned, the layer first.
 *
 * @param files - Names in ASCII.
 */
export function writeUsdz(files: readonly { name: string; bytes: Uint8Array }[]): Uint8Array {
  const out: Zippable = {};
  let at = 0;
  for (const { name, bytes } of files) {
    const begin = at + LOCAL_HEADER + name.length;
    const short = (ALIGNED - (begin % ALIGNED)) % ALIGNED;
    const pad = short === 0 || short >= EXTRA_HEADER ? short : short + ALIGNED;
    const extra = pad > 0 ? { extra: { [PADDING_ID]: new Uint8Array(pad - EXTRA_HEADER) } } : {};
    out[name] = [bytes, { level: 0, mtime: MTIME, ...extra }];
    at = begin + pad + bytes.length;
  }
  return zipSync(out);
}

/**
 * The files of a package, in their order.
 *
 * @throws SieveError `corrupt` where it is no zip, a file is compressed or not aligned, or its first is no layer.
 */
export function readUsdz(bytes: Uint8Array): { name: string; bytes: Uint8Array }[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 0; at + LOCAL_HEADER <= bytes.length && view.getUint32(at, true) === 0x04034b50;) {
    const begin = at + LOCAL_HEADER + view.getUint16(at + 26, true) + view.getUint16(at + 28, true);
    if (view.getUint16(at + 8, true) !== 0) throw wrong('a file in it is compressed');
    if (begin % ALIGNED !== 0) throw wrong(`a file in it begins at byte ${begin}, no multiple of ${ALIGNED}`);
    at = begin + view.getUint32(at + 18, true);
  }
  let files;
  try {
    files = Object.entries(unzipSync(bytes)).map(([name, found]) => ({ name, bytes: found }));
  } catch (error) {
    throw wrong((error as Error).message);
  }
  if (!/\.usd[ac]?$/i.test(files[0]?.name ?? '')) throw wrong('its first file is no layer');
  return files;
}

const wrong = (why: string) => new SieveError('corrupt', `It is no USDZ: ${why}.`);
