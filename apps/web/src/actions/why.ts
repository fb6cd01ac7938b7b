import { answerWhy, type Answer, type Look, type WhyName } from '@lithe-sieve/core';
import { useBenchStore } from '../stores/bench.store';
import { useClip } from '../stores/open-piece/open-piece';

/** Why the card looks as it does: asked of the piece, and of how the Stand shows it. */
export function useWhy() {
  const clip = useClip();
  const bench = useBenchStore();

  /** null until there is a mask. */
  function answer(name: WhyName, { seesFront, level }: { seesFront: boolean; level: number }): Answer | null {
    const { facts } = clip;
    const overlay = bench.overlay === 'none' ? null : bench.overlay;
    return facts && answerWhy(name, { ...facts, stand: { seesFront, level, light: bench.light, overlay } });
  }

  /** @param level - That is read now. */
  function lookSo({ light, near, noOverlay }: Look, level: number): void {
    if (light) bench.setLight(light);
    if (near) bench.distance = Math.max(NEAREST, bench.distance / 2 ** level);
    if (noOverlay) bench.overlay = 'none';
  }

  return { answer, lookSo };
}

/** Card sides. */
const NEAREST = 0.1;
