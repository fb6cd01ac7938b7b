import { decodeRows } from '../codec/decode.ts';
import type { CodecPlatform } from '../codec/platform.ts';
import type { Picture } from '../raster/raster.ts';
import { halvingsTo, RowShrinker } from '../raster/shrink.ts';
import type { SourceFacts } from './source-facts.ts';
import { SourceLook } from './source-look.ts';

/**
 * Reads a file once, in full, so that nothing broken is taken for good: what it holds, and a small copy of it.
 *
 * @param side - Sides of the copy are at most this.
 * @param rowsFrom - See {@link decodeRows}.
 * @throws {@link SieveError} those of the file's reader.
 */
export async function inspectSource(
  bytes: Uint8Array,
  platform: CodecPlatform,
  side: number,
  rowsFrom?: number,
): Promise<{ facts: SourceFacts; proxy: Picture }> {
  const sinks: { look: SourceLook; small: RowShrinker }[] = [];
  const said = await decodeRows(
    bytes,
    platform,
    (size) => {
      const [look, small] = [new SourceLook(size), new RowShrinker(size, halvingsTo(side, size))];
      sinks.push({ look, small });
      return {
        row(y, rgba, samples) {
          look.row(y, rgba, samples);
          small.row(y, rgba);
        },
      };
    },
    rowsFrom,
  );
  const [{ look, small }] = sinks;
  return { facts: look.facts(said), proxy: small.picture() };
}
