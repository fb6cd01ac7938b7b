import type { Wrap } from '../sieve/mip-filters.ts';

/** How a picture goes on beyond its sides (glTF 2.0 §5.26). */
export interface Wraps {
  across: Wrap;
  down: Wrap;
}

/** Copies of a picture that are looked at, to each side. */
const MOST_COPIES = 8;

type Copy = (share: number) => number;

/** Where else places of the picture are shown: in each copy of it that UVs reach. */
export function copiesOf(uvs: Float32Array, { across, down }: Wraps): [across: Copy, down: Copy][] {
  const along = (axis: 0 | 1, wrap: Wrap): Copy[] => {
    if (wrap === 'clamp') return [(share) => share];
    let [least, most] = [0, 0];
    for (let i = axis; i < uvs.length; i += 2) {
      if (uvs[i] < least) least = uvs[i];
      if (uvs[i] > most) most = uvs[i];
    }
    const [from, to] = [Math.max(-MOST_COPIES, Math.floor(least)), Math.min(MOST_COPIES, Math.ceil(most) - 1)];
    return Array.from({ length: Math.max(1, to - from + 1) }, (_, i) => {
      const k = from + i;
      return wrap === 'mirror' && k % 2 !== 0 ? (share) => k + 1 - share : (share) => k + share;
    });
  };
  const rows = along(1, down);
  return along(0, across).flatMap((x) => rows.map((y): [Copy, Copy] => [x, y]));
}

/** The place of the picture that is seen where a mesh shows one beyond it. */
export function withinPicture(u: number, v: number, { across, down }: Wraps): { u: number; v: number } {
  const within = (share: number, wrap: Wrap) => {
    if (share >= 0 && share <= 1) return share;
    if (wrap === 'clamp') return clampShare(share);
    const turns = Math.floor(share);
    return wrap === 'mirror' && turns % 2 !== 0 ? turns + 1 - share : share - turns;
  };
  return { u: within(u, across), v: within(v, down) };
}

export const clampShare = (share: number): number => Math.min(1, Math.max(0, share));
