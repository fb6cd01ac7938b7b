import type { AllProposed } from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import type { ProposeWorker, SmallOther } from '../workers/propose.worker';
import type { SmallSource } from '../workers/types';
import { valueOf } from './answered';
import { watch } from './watchdog';

/** A picture to find masks for, with the further sources that say something of them. */
export interface ProposalRequest {
  source: SmallSource;
  other?: SmallOther;
  byName?: SmallOther;
}

/**
 * Finds masks in a worker of its own, which is ended when it is done: it is wanted once for a picture.
 *
 * @param signal - Given up at once.
 */
export async function proposalsFor(request: ProposalRequest, signal: AbortSignal): Promise<AllProposed | null> {
  const worker = new Worker(new URL('../workers/propose.worker.ts', import.meta.url), { type: 'module' });
  let end: (error: Error) => void = () => undefined;
  const ended = new Promise<never>((_, reject) => (end = reject));
  const given = new Promise<null>((resolve) => signal.addEventListener('abort', () => resolve(null), { once: true }));
  const watched = watch(worker, () => 0, end);
  const remote = Comlink.wrap<ProposeWorker>(worker);
  const { source, ...others } = request;
  try {
    void remote.attach(watched.alive);
    const answered = await Promise.race([remote.propose(source, others), ended, given]);
    return valueOf(answered);
  } finally {
    watched.stop();
    worker.terminate();
  }
}
