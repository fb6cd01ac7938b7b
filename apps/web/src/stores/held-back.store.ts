import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { PieceDoc, PlainError } from '@lithe-sieve/core';
import { stepLabel } from '../document/step-labels';
import { stands, underWayNotes, type UnderWay } from '../engine/under-way';
import { useNoticesStore } from './notices.store';

const noticeOf = (pieceId: string) => `held back ${pieceId}`;

const ENDED = {
  tab: 'was being computed when this page ended unexpectedly',
  worker: 'stopped answering while it was computed, and the computation was started again',
} as const;

interface HeldBack {
  of: UnderWay;
  /** Why, in words. */
  error: PlainError;
}

/**
 * What is left out of the computation of pieces because it took a tab or a worker with it, until it is set
 * otherwise or asked for. Session state: the document stays as it is.
 */
export const useHeldBackStore = defineStore('held-back', () => {
  const notices = useNoticesStore();
  /** By piece; replaced whole. */
  const held = shallowRef<ReadonlyMap<string, HeldBack>>(new Map());

  /** @param again - Computes it after all. @returns false where the document would not compute it any more. */
  function hold(pieceId: string, doc: PieceDoc, of: UnderWay, ended: keyof typeof ENDED, again: () => void): boolean {
    if (!stands(doc, of)) return false;
    const step = doc.run.find((s) => s.id === of.id);
    const message = `${step ? `“${stepLabel(step)}”` : 'The recipe'} ${ENDED[ended]}.`;
    const remedy = `It is left out until ${step ? 'the step' : 'the recipe'} is set otherwise.`;
    held.value = new Map(held.value).set(pieceId, { of, error: { code: 'held-back', message, remedy } });
    const action = {
      label: 'Compute it',
      run: () => {
        release(pieceId);
        again();
      },
    };
    notices.tell({ id: noticeOf(pieceId), bad: true, text: message, remedy, action });
    return true;
  }

  /** What is held back of a document, as long as that would still compute it. */
  function of(pieceId: string, doc: PieceDoc): HeldBack | null {
    const now = held.value.get(pieceId);
    if (now && stands(doc, now.of)) return now;
    if (now) release(pieceId);
    return null;
  }

  function release(pieceId: string): void {
    held.value = new Map([...held.value].filter(([id]) => id !== pieceId));
    notices.dismiss(noticeOf(pieceId));
  }

  return { hold, of, release, takeLeft: (pieceId: string) => underWayNotes.takeLeft(pieceId) };
});
