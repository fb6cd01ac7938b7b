import { beforeEach, expect, test } from '@jest/globals';
import { makeStep, PIECE_DEFAULTS } from '@lithe-sieve/core';
import { createPinia, setActivePinia } from 'pinia';
import { nextTick } from 'vue';
import { useBenchStore } from '../src/stores/bench.store';
import { useHelpStore } from '../src/stores/help.store';
import { usePiece } from '../src/stores/open-piece/open-piece';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  setActivePinia(createPinia());
});

test('the page of what has the focus, else of what is selected, else of the screen; the same key closes it', () => {
  const [help, bench] = [useHelpStore(), useBenchStore()];
  bench.selection = { kind: 'levels' };
  help.toggle('bench');
  expect([help.open, help.trail]).toEqual([true, ['terms.md#mip-level']]);
  help.toggle('bench');
  expect(help.open).toBe(false);
  for (const [screen, page] of [
    ['stock', 'terms.md#stock'],
    ['hand-off', 'terms.md#hand-off'],
    ['studio', 'terms.md#studio'],
  ]) {
    help.toggle(screen);
    expect(help.trail.at(-1)).toBe(page);
  }
  document.body.innerHTML = '<li data-help="snags.md#halo"><button id="b">Bleed</button></li>';
  document.getElementById('b')!.focus();
  help.toggle('bench');
  expect(help.trail.at(-1)).toBe('snags.md#halo');
});

test('a page of what is selected follows the selection and leaves the focus; one that was followed by a link stays', async () => {
  const [help, bench, piece] = [useHelpStore(), useBenchStore(), usePiece()];
  const steps = [makeStep('a', 'bleed'), makeStep('b', 'grow')];
  Object.assign(piece, { doc: { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: steps } });
  bench.selection = { kind: 'step', id: 'a' };
  await nextTick();
  help.toggle('bench');
  const { asked } = help;
  bench.selection = { kind: 'step', id: 'b' };
  await nextTick();
  expect([help.trail, help.asked]).toEqual([['steps.md#bleed', 'steps.md#grow'], asked]);
  help.show('snags.md#halo');
  bench.selection = { kind: 'card' };
  await nextTick();
  expect(help.trail.at(-1)).toBe('snags.md#halo');
  help.back();
  expect([help.trail.at(-1), help.asked]).toEqual(['steps.md#grow', asked + 2]);
  help.show(null);
  expect(help.trail).toEqual([]);
});

test('the walk is offered until it is taken or declined, also at the next visit', () => {
  const help = useHelpStore();
  expect([help.offersWalk, help.walking]).toEqual([true, false]);
  help.walk();
  expect([help.offersWalk, help.walking, help.open]).toEqual([false, true, false]);
  help.endWalk();
  setActivePinia(createPinia());
  expect([useHelpStore().offersWalk, useHelpStore().walking]).toEqual([false, false]);
});
