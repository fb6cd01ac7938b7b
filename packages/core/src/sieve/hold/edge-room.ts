/**
 * How far each alpha may move: never to the other side of the threshold, and beside an edge only so far that the edge
 * of the magnified picture stays close to where it was.
 *
 * A room is a word of four bytes, from the lowest: how far an alpha may rise unnoticed, fall unnoticed, rise at all,
 * fall at all.
 */
export interface EdgeRoom {
  threshold: number;
  /** By `alpha << 8 | neighbour`, of a texel and that neighbour of its four that is furthest towards the other side. */
  rooms: Uint32Array;
}

/** Texels that an edge may move for each of the two texels beside it: unnoticed, and at full strength. */
const UNNOTICED = 0.05;
const AT_MOST = 0.4;

/**
 * Between texels of alpha a and b a bilinear magnification crosses the threshold t at (t − a) / (b − a) of the way.
 *
 * @param threshold - Byte, 1–255: smallest alpha that is kept.
 * @param strength - 0 (nothing moves) to 1.
 */
export function edgeRoom(threshold: number, strength: number): EdgeRoom {
  const rooms = new Uint32Array(1 << 16);
  for (let v = 0; v < 256; v++) {
    const kept = v >= threshold;
    const rise = Math.floor(strength * ((kept ? 255 : threshold - 1) - v));
    const fall = Math.floor(strength * (v - (kept ? threshold : 0)));
    const inside = roomWord(rise, fall, rise, fall);
    for (let n = 0; n < 256; n++) {
      if (n >= threshold === kept) {
        rooms[(v << 8) | n] = inside;
        continue;
      }
      const easy = roomBeside(v, n, threshold - 0.5, UNNOTICED * strength);
      const all = roomBeside(v, n, threshold - 0.5, AT_MOST * strength);
      rooms[(v << 8) | n] = roomWord(
        Math.min(rise, easy.rise),
        Math.min(fall, easy.fall),
        Math.min(rise, all.rise),
        Math.min(fall, all.fall),
      );
    }
  }
  return { threshold, rooms };
}

function roomWord(easyRise: number, easyFall: number, rise: number, fall: number): number {
  return (easyRise | (easyFall << 8) | (rise << 16) | (fall << 24)) >>> 0;
}

/** How far an alpha may rise and fall so that its edge towards a neighbour lies at most `shift` texels off. */
function roomBeside(
  alpha: number,
  neighbour: number,
  threshold: number,
  shift: number,
): { rise: number; fall: number } {
  const at = (threshold - alpha) / (neighbour - alpha);
  const alphaFor = (place: number) => (threshold - place * neighbour) / (1 - place);
  const near = Math.abs(alphaFor(Math.max(0, at - shift)) - alpha);
  const far = at + shift > 0.999 ? 255 : Math.abs(alphaFor(at + shift) - alpha);
  const [towards, away] = [Math.min(255, Math.floor(near)), Math.min(255, Math.floor(far))];
  return alpha < neighbour ? { rise: towards, fall: away } : { rise: away, fall: towards };
}

/** Room of a texel of alpha `v` among its four neighbours; without a branch, since edges cannot be foreseen. */
export function roomOf(
  rooms: Uint32Array,
  threshold: number,
  v: number,
  left: number,
  right: number,
  above: number,
  below: number,
): number {
  const flip = ~((v - threshold) >> 31) & 255; // of a kept texel the lowest is sought, as the highest upside down
  const a = left ^ flip;
  const b = right ^ flip;
  const c = above ^ flip;
  const d = below ^ flip;
  const p = a - ((a - b) & ((a - b) >> 31));
  const q = c - ((c - d) & ((c - d) >> 31));
  return rooms[(v << 8) | ((p - ((p - q) & ((p - q) >> 31))) ^ flip)];
}
