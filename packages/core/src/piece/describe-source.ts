import type { DecodedPicture } from '../codec/picture.ts';
import { feedRows } from '../raster/rows.ts';
import type { SourceFacts } from './source-facts.ts';
import { SourceLook } from './source-look.ts';

/** What a decoded file holds; a million texels at most are looked at for shares, every one for alpha and grey. */
export function describeSource(decoded: DecodedPicture): SourceFacts {
  const look = new SourceLook(decoded.raster);
  feedRows(decoded.raster, look);
  return look.facts(decoded);
}
