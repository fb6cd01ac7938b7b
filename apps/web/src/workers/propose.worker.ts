import { makePicture, proposeForKinds, type AllProposed, type Picture } from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { answer } from './answer';
import { beat } from './beat';
import type { Answer, SmallSource } from './types';

/** A further source, as small as the first. */
export interface SmallOther {
  id: string;
  sha256: string;
  picture: Picture;
}

const DISC_SIDE = 96;

/** A shaded disc on a shaded ground. */
function disc(): Picture {
  const data = new Uint8Array(4 * DISC_SIDE * DISC_SIDE);
  for (let i = 0, o = 0; o < data.length; i++, o += 4) {
    const [x, y] = [i % DISC_SIDE, Math.floor(i / DISC_SIDE)];
    const isInside = Math.hypot(x - DISC_SIDE / 2, y - DISC_SIDE / 2) < DISC_SIDE / 3;
    data.set(isInside ? [60 + x, 120, 40, 255] : [200, 190 + (y >> 1), 180 + (x & 15), 255], o);
  }
  return makePicture(DISC_SIDE, DISC_SIDE, data);
}

/** Masks for a picture, beside the workers of the run: a drag never waits for them. */
const proposeWorker = {
  attach: beat,
  /** Compiles the code by a small picture, while the first one is still on its way. */
  warmUp(): void {
    proposeForKinds(disc());
  },
  propose(
    { picture, scale }: SmallSource,
    { other, byName }: { other?: SmallOther; byName?: SmallOther },
  ): Promise<Answer<AllProposed>> {
    return answer(() => proposeForKinds(picture, { scale, ...(other && { other }), ...(byName && { byName }) }));
  },
};
export type ProposeWorker = typeof proposeWorker;

Comlink.expose(proposeWorker);
