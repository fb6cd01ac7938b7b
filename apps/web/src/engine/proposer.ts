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

interface Proposer {
  remote: Comlink.Remote<ProposeWorker>;
  /** Rejects when nothing more comes from it. */
  ended: Promise<never>;
  end(): void;
}

/** One that waits for the next picture: its code is compiled by then. */
let idle: Proposer | null = null;

/** While a picture is on its way. */
export function readyProposer(): void {
  if (idle) return;
  idle = start();
  void idle.remote.warmUp();
}

/**
 * Finds masks in a worker of its own.
 *
 * @param signal - Given up at once.
 */
export async function proposalsFor(request: ProposalRequest, signal: AbortSignal): Promise<AllProposed | null> {
  const mine = idle ?? start();
  idle = null;
  const given = new Promise<null>((resolve) => signal.addEventListener('abort', () => resolve(null), { once: true }));
  const { source, ...others } = request;
  let isDone = false;
  try {
    const answered = await Promise.race([mine.remote.propose(source, others), mine.ended, given]);
    isDone = !signal.aborted;
    return valueOf(answered);
  } finally {
    if (isDone && !idle) idle = mine;
    else mine.end();
  }
}

function start(): Proposer {
  const worker = new Worker(new URL('../workers/propose.worker.ts', import.meta.url), { type: 'module' });
  let lost: (error: Error) => void = () => undefined;
  const ended = new Promise<never>((_, reject) => (lost = reject));
  const watched = watch(worker, () => 0, lost);
  const remote = Comlink.wrap<ProposeWorker>(worker);
  void remote.attach(watched.alive);
  const proposer: Proposer = {
    remote,
    ended,
    end() {
      watched.stop();
      worker.terminate();
    },
  };
  ended.catch(() => {
    proposer.end();
    if (idle === proposer) idle = null; // the next one starts another
  });
  return proposer;
}
