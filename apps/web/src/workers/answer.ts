import { isSieveError, toPlainError } from '@lithe-sieve/core';
import type { Answer } from './types';

/** What a task made, or the error of it as a record; `null` where a newer request overtook it. */
export async function answer<T>(work: () => T | Promise<T>): Promise<Answer<T>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    return isSieveError(error, 'cancelled') ? null : { ok: false, error: toPlainError(error) };
  }
}
