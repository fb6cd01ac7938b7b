import { decodeRows } from '../codec/decode.ts';
import type { CodecPlatform } from '../codec/platform.ts';
import type { Picture } from '../raster/raster.ts';
import { RowSampler } from '../raster/sample.ts';
import { halvingsTo, RowShrinker } from '../raster/shrink.ts';
import type { SourceFacts } from './source-facts.ts';
import { SourceLook } from './source-look.ts';

/**
 * A source reduced: shrunk as light, to look at; as values, for steps that read it as a mask or as heights; and as texels
 * picked out of it, to tell shares by.
 */
export interface Proxy {
  picture: Picture;
  data: Picture;
  samples: Picture;
}

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
): Promise<{ facts: SourceFacts; proxy: Proxy }> {
  const sinks: { look: SourceLook; light: RowShrinker; values: RowShrinker; picked: RowSampler }[] = [];
  const said = await decodeRows(
    bytes,
    platform,
    (size) => {
      const look = new SourceLook(size);
      const halvings = halvingsTo(side, size);
      const light = new RowShrinker(size, halvings, 'colour');
      const values = new RowShrinker(size, halvings, 'data');
      const picked = new RowSampler(size, halvings);
      sinks.push({ look, light, values, picked });
      return {
        row(y, rgba, samples) {
          look.row(y, rgba, samples);
          light.row(y, rgba);
          values.row(y, rgba);
          picked.row(y, rgba);
        },
      };
    },
    rowsFrom,
  );
  const [{ look, light, values, picked }] = sinks;
  return {
    facts: look.facts(said),
    proxy: { picture: light.picture(), data: values.picture(), samples: picked.picture() },
  };
}
