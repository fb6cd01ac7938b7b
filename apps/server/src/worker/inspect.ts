import { decodePicture, describeSource, halvingsTo, shrink, toRgba8 } from '@lithe-sieve/core';
import { nodePlatform } from './node-platform.ts';
import type { Inspected, InspectTask } from './tasks.ts';

/** Sides of a proxy are at most this. */
export const PROXY_SIDE = 512;

/** Decodes a file once, in full, so that nothing broken is ever stored; keeps what it holds and a small copy. */
export async function inspect({ bytes }: InspectTask): Promise<Inspected> {
  const decoded = await decodePicture(bytes, nodePlatform);
  const facts = describeSource(decoded);
  const whole = toRgba8(decoded.raster);
  const picture = shrink(whole, halvingsTo(PROXY_SIDE, whole));
  return { facts, proxy: { width: picture.width, height: picture.height, rgba: picture.data } };
}
