import type { Wrap } from '../sieve/mip-filters.ts';
import type { UV } from './cut-to.ts';

/** How a picture goes on beyond its sides (glTF 2.0 §5.26). */
export interface Wraps {
  across: Wrap;
  down: Wrap;
}

/** Copies of a picture that are looked at, to each side. */
const MOST_COPIES = 8;

type Copy = (share: number) => number;

/** One copy of the picture along a side: where its places are there, and which of them lies at one. */
interface CopyAlong {
  there: Copy;
  back: Copy;
}

/** Where else places of the picture are shown: in each copy of it that UVs reach. */
export function copiesOf(uvs: Float32Array, { across, down }: Wraps): [across: Copy, down: Copy][] {
  const rows = copiesAlong(...spanOf(uvs, 1), down);
  return copiesAlong(...spanOf(uvs, 0), across).flatMap((x) => rows.map((y): [Copy, Copy] => [x.there, y.there]));
}

/** From places of UVs to those of the picture, for each copy that some corners reach. */
export function copiesReached(corners: readonly UV[], { across, down }: Wraps): [across: Copy, down: Copy][] {
  const span = (k: 0 | 1) => [Math.min(...corners.map((c) => c[k])), Math.max(...corners.map((c) => c[k]))] as const;
  const rows = copiesAlong(...span(1), down);
  return copiesAlong(...span(0), across).flatMap((x) => rows.map((y): [Copy, Copy] => [x.back, y.back]));
}

/** The picture itself among them. */
function spanOf(uvs: Float32Array, axis: 0 | 1): readonly [number, number] {
  let [least, most] = [0, 0];
  for (let i = axis; i < uvs.length; i += 2) {
    if (uvs[i] < least) least = uvs[i];
    if (uvs[i] > most) most = uvs[i];
  }
  return [least, most];
}

function copiesAlong(least: number, most: number, wrap: Wrap): CopyAlong[] {
  if (wrap === 'clamp') return [{ there: (share) => share, back: (share) => share }];
  const [from, to] = [Math.max(-MOST_COPIES, Math.floor(least)), Math.min(MOST_COPIES, Math.ceil(most) - 1)];
  return Array.from({ length: Math.max(1, to - from + 1) }, (_, i) => {
    const k = from + i;
    const mirrored: Copy = (share) => k + 1 - share;
    if (wrap === 'mirror' && k % 2 !== 0) return { there: mirrored, back: mirrored };
    return { there: (share) => k + share, back: (share) => share - k };
  });
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
