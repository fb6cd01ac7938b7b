import { declaredSize, makeMask, makePicture, readPng, SieveError, writePng } from '@lithe-sieve/core';
import { VIEW_SIDE } from '@lithe-sieve/contract';
import { asShown } from './as-shown.ts';
import { deflateInStrips, nodePlatform } from '@lithe-sieve/host';
import type { TakenView, TakeViewTask } from './tasks.ts';

/**
 * Looks over the picture that a page made of a piece at full size, and makes that of the Stock of it.
 *
 * @throws SieveError `corrupt` where it is none of 8-bit RGBA, or too large.
 */
export async function takeView({ png, material }: TakeViewTask): Promise<TakenView> {
  const claimed = declaredSize(png); // before anything is decoded
  if (Math.max(claimed.width, claimed.height) > VIEW_SIDE) throw noView();
  const { raster } = await readPng(png, nodePlatform);
  const { width, height, channels, data } = raster;
  if (channels !== 4 || !(data instanceof Uint8Array)) throw noView();
  const mask = makeMask(
    width,
    height,
    data.filter((_, i) => i % 4 === 3),
  );
  const picture = asShown(material, { colour: makePicture(width, height, data), mask });
  return { png: await writePng(picture, deflateInStrips) };
}

function noView(): SieveError {
  return new SieveError('corrupt', 'This is no picture of a piece.', 'Reload the page.');
}
