import { MaxRectsPacker, Rectangle } from 'maxrects-packer';
import type { Packed, PackHow, Place } from './pack.ts';

/** Units that the width has; boxes are laid in whole ones. */
const UNIT = 4096;
const TRIES = 12;

/**
 * What a packer of boxes makes of parts: each in the upright box that it came in, turned by a quarter where parts may be
 * turned, as large as all of them have room.
 *
 * @returns null where they find none.
 */
export function packBoxes(parts: readonly Packed[], how: PackHow): Place[] | null {
  const area = parts.reduce((sum, { outline, tall }) => sum + outline.ratio * tall * tall, 0);
  let [least, most] = [0, Math.sqrt(how.ratio / area)];
  let found: Place[] | null = null;
  for (let k = 0; k < TRIES; k++) {
    const size = (least + most) / 2;
    const places = packAt(parts, size, how);
    if (places) [least, found] = [size, places];
    else most = size;
  }
  return found;
}

function packAt(parts: readonly Packed[], size: number, { ratio, turning, gutter }: PackHow): Place[] | null {
  const how = { smart: false, pot: false, square: false, allowRotation: turning !== 'not at all' };
  const packer = new MaxRectsPacker<Rectangle>(UNIT, Math.floor(UNIT * ratio), 0, how);
  const side = (v: number) => Math.ceil((v * size + gutter) * UNIT);
  const boxes = parts.map(({ outline, tall }) => new Rectangle(side(tall * outline.ratio), side(tall)));
  packer.addArray(boxes);
  const [bin] = packer.bins;
  // one that is larger than the whole gets a bin of its own
  if (packer.bins.length > 1 || bin.width > UNIT || bin.height > UNIT * ratio) return null;
  return boxes.map(({ x, y, width, height, rot }, i) => ({
    x: (x + width / 2) / UNIT,
    y: (y + height / 2) / UNIT,
    turn: rot ? 90 : 0,
    tall: parts[i].tall * size,
  }));
}
