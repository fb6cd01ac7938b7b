import { proposeForKinds, type AllProposed, type Picture } from '@lithe-sieve/core';
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
