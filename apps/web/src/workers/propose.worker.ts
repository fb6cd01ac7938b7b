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

/** Masks for a picture, beside the workers of the run: a drag never waits for them. */
const proposeWorker = {
  attach: beat,
  propose(
    { picture, scale }: SmallSource,
    { other, byName }: { other?: SmallOther; byName?: SmallOther },
  ): Promise<Answer<AllProposed>> {
    return answer(() => proposeForKinds(picture, { scale, ...(other && { other }), ...(byName && { byName }) }));
  },
};
export type ProposeWorker = typeof proposeWorker;

Comlink.expose(proposeWorker);

/** Side of a picture by which the code is compiled while the first one is still on its way. */
const TRIAL_SIDE = 96;
const trial = new Uint8Array(4 * TRIAL_SIDE * TRIAL_SIDE);
for (let i = 0, o = 0; o < trial.length; i++, o += 4) {
  const [x, y] = [i % TRIAL_SIDE, Math.floor(i / TRIAL_SIDE)];
  const isDisc = Math.hypot(x - TRIAL_SIDE / 2, y - TRIAL_SIDE / 2) < TRIAL_SIDE / 3;
  trial.set(isDisc ? [60 + x, 120, 40, 255] : [200, 190 + (y >> 1), 180 + (x & 15), 255], o);
}
proposeForKinds(makePicture(TRIAL_SIDE, TRIAL_SIDE, trial));
