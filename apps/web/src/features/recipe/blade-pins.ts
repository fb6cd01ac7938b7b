import type { Blade, PinnedBlade, TuftParams } from '@lithe-sieve/core';

/** In widths of the card from its top left. */
interface Place {
  x: number;
  y: number;
}

const DEGREES = 180 / Math.PI;

/** The pin of a blade, or the one that it would get. @param ratio - Height of the card over its width. */
export function pinOf({ pinned }: TuftParams, { index, seed, x, y }: Blade, ratio: number): PinnedBlade {
  const own = pinned.find((p) => p.blade === index);
  return own ?? { blade: index, seed, x, y: y / ratio, turn: 0, stretch: 1 };
}

export function withPin({ pinned }: TuftParams, pin: PinnedBlade): PinnedBlade[] {
  return [...pinned.filter((p) => p.blade !== pin.blade), pin].sort((a, b) => a.blade - b.blade);
}

const shareOf = (v: number) => Math.round(Math.min(2, Math.max(-1, v)) * 10_000) / 10_000;

/** With its root as far from where it was as a press went. */
export function movedPin(pin: PinnedBlade, from: Place, to: Place, ratio: number): PinnedBlade {
  return { ...pin, x: shareOf(pin.x + to.x - from.x), y: shareOf(pin.y + (to.y - from.y) / ratio) };
}

/** As the line from the root to a press turns and grows. */
export function turnedPin(blade: Blade, pin: PinnedBlade, from: Place, to: Place): PinnedBlade {
  const angle = (p: Place) => Math.atan2(p.x - blade.x, blade.y - p.y) * DEGREES;
  const far = (p: Place) => Math.max(1e-6, Math.hypot(p.x - blade.x, p.y - blade.y));
  let turn = pin.turn + angle(to) - angle(from);
  if (turn > 180) turn -= 360;
  else if (turn < -180) turn += 360;
  const stretch = Math.min(4, Math.max(0.1, (pin.stretch * far(to)) / far(from)));
  return { ...pin, turn: Math.round(turn * 10) / 10, stretch: Math.round(stretch * 1000) / 1000 };
}
