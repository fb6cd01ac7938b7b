import { inspectSource } from '@lithe-sieve/core';
import { nodePlatform } from '@lithe-sieve/host';
import type { Inspected, InspectTask } from './tasks.ts';

/** Sides of a proxy are at most this. */
export const PROXY_SIDE = 512;

/** Decodes a file once, in full, so that nothing broken is ever stored; keeps what it holds and a small copy. */
export async function inspect({ bytes, side = PROXY_SIDE }: InspectTask): Promise<Inspected> {
  const { facts, proxy } = await inspectSource(bytes, nodePlatform, side);
  const { width, height, data: rgba } = proxy.picture;
  return { facts, proxy: { width, height, rgba, values: proxy.data.data, samples: proxy.samples.data } };
}
