import {
  toPlainError,
  type AllProposed,
  type Mask,
  type Picture,
  type Proposal,
  type StepEntry,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { makeId } from '../../document/ids';
import { proposalsFor } from '../../engine/proposer';
import { tellTiming } from '../../engine/timing';
import type { EngineStore } from './engine';
import type { PieceStore } from './piece';

/** A mask to start from, with the steps that make it. */
export interface ShownProposal {
  key: string;
  run: StepEntry[];
  title: string;
  reason: string;
  /** Small, of the size of {@link Proposals.picture}. */
  mask: Mask;
}

interface Proposals {
  /** Small. */
  picture: Picture;
  likeliest: ShownProposal[];
  ofKinds: ShownProposal[];
}

/** Masks that the picture of an open piece may start from; found when somebody looks, and once for its sources. */
function makeProposals(piece: PieceStore, engine: EngineStore) {
  const found = shallowRef<(Proposals & { of: string }) | null>(null);
  const failure = ref<{ message: string; remedy: string } | null>(null);
  /** Who looks; nothing is computed for nobody. */
  const lookers = ref(0);
  let underWay: AbortController | null = null;

  /** All that decides on them; empty where there is no picture to propose for, or it is not there yet. */
  const wanted = computed(() => {
    const [first, ...others] = piece.sources;
    if (lookers.value === 0 || !first || first.recipe || !engine.mask) return '';
    return JSON.stringify([piece.id, first.sha256, ...others.map(({ sha256, role }) => [sha256, role])]);
  });
  const now = computed(() => (found.value && found.value.of === wanted.value ? found.value : null));
  const busy = computed(() => wanted.value !== '' && !now.value && !failure.value);

  watch(wanted, (of) => {
    underWay?.abort();
    failure.value = null;
    if (of !== '' && found.value?.of !== of) void find(of);
  });

  async function find(of: string): Promise<void> {
    const mine = (underWay = new AbortController());
    const started = performance.now();
    try {
      const request = await requestNow();
      if (mine.signal.aborted) return;
      if (!request) throw Object.assign(new Error('The picture is not ready yet.'), { remedy: 'Try again.' });
      const all = await proposalsFor(request, mine.signal);
      if (mine.signal.aborted) return;
      const shown = shownOf(all, request.source.picture);
      found.value = { of, ...shown, ofKinds: shown.ofKinds.filter(suits) };
      tellTiming('proposed', 0, performance.now() - started);
    } catch (error) {
      if (!mine.signal.aborted) failure.value = toPlainError(error);
    }
  }

  /** A mask picture that is here goes first, of whatever size it is: its step takes it, and says what is wrong with it. */
  function suits({ run: [first] }: ShownProposal): boolean {
    return (
      first.kind !== 'from-channel' || first.params.sourceId !== '' || !piece.sources.some((s) => s.role === 'mask')
    );
  }

  async function requestNow() {
    const from = engine.engine();
    const [first, ...others] = piece.sources;
    const source = await from.smallPicture(first.sha256);
    if (!source) return null;
    const ofRole = async (role: string) => {
      const ref = others.find((s) => s.role === role && !s.recipe);
      const small = ref && (await from.smallPicture(ref.sha256));
      const { width, height } = source.picture;
      // of another size, it is for its step to say so
      const fits = small && small.picture.width === width && small.picture.height === height;
      return fits ? { id: ref.id, sha256: ref.sha256, picture: small.picture } : undefined;
    };
    const [other, byName] = [await ofRole('other backdrop'), await ofRole('mask')];
    return { source, ...(other && { other }), ...(byName && { byName }) };
  }

  /** Computed while the returned function was not called. */
  function look(): () => void {
    lookers.value++;
    let looks = true;
    return () => {
      if (looks) lookers.value--;
      looks = false;
    };
  }

  /** Resolves when there is nothing under way. */
  function settled(): Promise<void> {
    if (!busy.value) return Promise.resolve();
    return new Promise((resolve) => {
      const stop = watch(busy, (is) => {
        if (is) return;
        stop();
        resolve();
      });
    });
  }

  function tryAgain(): void {
    failure.value = null;
    if (wanted.value) void find(wanted.value);
  }

  function reset(): void {
    underWay?.abort();
    found.value = null;
    failure.value = null;
  }

  return { now, busy, failure, look, settled, tryAgain, reset };
}

function shownOf(all: AllProposed | null, picture: Picture): Proposals {
  if (!all) return { picture, likeliest: [], ofKinds: [] };
  return { picture, likeliest: all.likeliest.map(shown), ofKinds: all.ofKinds.map(shown) };
}

/** Ids of a run are those of the piece that it goes into. */
function shown({ run, title, reason, mask }: Proposal, at: number): ShownProposal {
  return { key: `${run[0].kind} ${at}`, run: run.map((step) => ({ ...step, id: makeId() })), title, reason, mask };
}

export const defineProposals = (scope: string, usePiece: () => PieceStore, useEngine: () => EngineStore) =>
  defineStore(`proposals ${scope}`, () => makeProposals(usePiece(), useEngine()));
export type ProposalsStore = ReturnType<ReturnType<typeof defineProposals>>;
