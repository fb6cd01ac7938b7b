import { packed } from '../../material/slot-pictures.ts';
import type { DecodedPicture } from '../../codec/picture.ts';
import { thresholdByte } from '../../math/threshold.ts';
import { GLTF_PICTURES } from '../../material/slot-pictures.ts';
import { PIECE_DEFAULTS, type PieceDoc } from '../../piece/piece-doc.ts';
import { PACKED_AS, type PackedFile } from '../../piece/packing.ts';
import { mapKind, MAPS, type MapName } from '../../raster/maps.ts';
import type { Mask, Raster, Samples } from '../../raster/raster.ts';
import type { RunState } from '../../raster/run-state.ts';
import { withMaskAsAlpha, withoutAlpha } from '../../run/compose.ts';
import { distanceField } from '../../sieve/distance-field.ts';
import { histogram } from '../../sieve/histogram.ts';
import { keptReadAsColour } from '../../sieve/read-as-colour.ts';
import { checkPixels } from '../compare.ts';
import type { Add, FileFormat } from '../file-format.ts';
import { isColour, type PicturePlan } from '../file-plan.ts';
import { mapRaster } from '../map-files.ts';
import { withLevels } from '../with-levels.ts';
import { missingWords, notHeldBy, packedRaster, packedWords } from '../packed.ts';

/** One picture, in any of the kinds of file that hold one. */
export const PICTURE_FORMAT: FileFormat<PicturePlan> = {
  async write(plan, { doc, state }, tools) {
    const raster = rasterOf(plan, state, doc);
    if (!raster) return null;
    return {
      bytes: await tools.encode(raster, plan.extension, isColour(plan)),
      async check(bytes, piece, given, add) {
        const decoded = await given.decode(bytes);
        checkPixels(decoded, raster, plan.holds === 'mask' || plan.holds === 'colour and mask', add);
        if (plan.holds === 'mask') sayHowToRead(decoded, plan, piece, add);
        if (plan.packed) sayChannels(plan.packed, state, add);
      },
    };
  },

  isWritten: ({ holds }, maps) => ALWAYS.includes(holds) || holds.split(', ').some((map) => maps.has(map as MapName)),

  leavesOut: (plan, maps, doc) => notHeldBy(plan, maps, doc),

  picture: (plan, state, doc) => rasterOf(plan, state, doc),

  onCard(plan, { width, height }, { maps }) {
    if (!this.isWritten(plan, new Set(maps.keys()))) return 0;
    const { channels, bytes } = shapeOf(plan);
    const smaller = 4 ** (plan.packed?.halvings ?? 0) * (plan.divisor ?? 1) ** 2;
    // three channels take as much as four, since a card reads words (common practice)
    return ((channels === 3 ? 4 : channels) * bytes * width * height * withLevels(1)) / smaller;
  },

  estimate(plan, state, rowsOf) {
    if (plan.extension === 'tga') return { bytes: rawBytes(plan, state) }; // runs are rare in pictures

    if (!plan.divisor && !plan.packed?.halvings) {
      const textures = (from: number, to: number) => [rasterOf(plan, rowsOf(from, to), PIECE_DEFAULTS)];
      return { height: state.colour.height, textures };
    }
    // what is smaller than the run's rasters takes about as many bytes whatever the clip is
    const field = rasterOf(plan, state, PIECE_DEFAULTS)!;
    const line = field.channels * field.width;
    const textures = (from: number, to: number) => [
      { ...field, height: to - from, data: field.data.subarray(line * from, line * to) },
    ];
    return { height: field.height, textures };
  },
};

/** Of a file: its channels, and bytes of a sample. */
function shapeOf({ holds, packed: of, forGltf }: PicturePlan): { channels: number; bytes: number } {
  if (forGltf) return { channels: GLTF_PICTURES[holds as MapName]!.channels, bytes: 1 };
  if (of) return { channels: PACKED_AS[of.as].length, bytes: of.bits / 8 };
  if (holds === 'colour and mask' || holds === 'backColour') return { channels: 4, bytes: 1 };
  if (holds === 'colour' || !(holds in MAPS)) return { channels: 3, bytes: 1 };
  const { channels, depth } = mapKind(holds as MapName);
  return { channels, bytes: depth / 8 };
}

function rawBytes(plan: PicturePlan, { colour }: RunState): number {
  return (shapeOf(plan).channels * colour.width * colour.height) / 4 ** (plan.packed?.halvings ?? 0);
}

const ALWAYS: readonly string[] = ['colour', 'mask', 'colour and mask', 'packed'];

/** The raster that a plan puts into its file; null where the run makes no such map. */
function rasterOf(
  { holds, divisor, packed: of, forGltf }: PicturePlan,
  state: RunState,
  { material: { cutoff, opacity }, handOff }: Pick<PieceDoc, 'material' | 'handOff'>,
): Raster<Samples> | null {
  if (of) return packedRaster(of, state, handOff);
  if (forGltf) return state.maps.has(holds as MapName) ? GLTF_PICTURES[holds as MapName]!.raster(state.maps) : null;
  if (divisor) return distanceField(state.mask, thresholdByte(cutoff, opacity), divisor);
  if (holds === 'packed') return null;
  if (holds === 'colour and mask') return withMaskAsAlpha(state);
  if (holds === 'occlusion, roughness, metalness') return packed(state.maps);
  return holds === 'colour' ? withoutAlpha(state.colour) : mapRaster(holds, state, handOff);
}

/** What each channel holds, and what the run does not make of it. */
function sayChannels(packed: PackedFile, { maps }: RunState, add: Add): void {
  add('channels', true, `${packedWords(packed)}${missingWords(packed, maps)}`);
}

/** No check of the file, but what it comes to where it is opened as most pictures are. */
function sayHowToRead({ raster }: DecodedPicture, plan: PicturePlan, { material }: PieceDoc, add: Add): void {
  const byteEach = raster.channels === 1 && raster.data instanceof Uint8Array && !plan.divisor;
  const kept = byteEach ? keptReadAsColour(histogram(raster as Mask), material) : null;
  const wrong = kept && `; as sRGB ${percent(kept.asColour)} would be kept instead of ${percent(kept.meant)}`;
  add('to be read as', true, `linear${wrong ?? ''}`);
}

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
