import type { ChannelFill, PackedFile } from '../piece/packing.ts';
import { PACKED_AS, PACKING_AT_FIRST, type PackedBlocks } from '../piece/packing.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import { allocate16, allocateHeap, type Raster, type Samples } from '../raster/raster.ts';
import { mapsOf, type RunState } from '../raster/run-state.ts';
import { mapMips } from '../sieve/map-mips.ts';
import type { PicturePlan, TexturePlan } from './file-plan.ts';
import { mapRaster } from './map-files.ts';

/** The plans of a packing of one's own. */
export function packedPlans(files: readonly PackedFile[]): (PicturePlan | TexturePlan)[] {
  return files.map((packed) => {
    const { format = 'png', blocks = 'none', as, name: slot } = packed;
    const plan = { slot, holds: 'packed', packed, contents: packedWords(packed) } as const;
    if (format !== 'dds' && format !== 'ktx2') return { ...plan, extension: format };
    return { ...plan, extension: format, texels: blocks === 'none' ? (as === 'grey' ? 'r8' : 'rgba8') : blocks };
  });
}

/** What blocks do to channels, beside rounding them. */
const BLOCKS_LEAVE: Partial<Record<PackedFile['as'], Partial<Record<PackedBlocks, string>>>> = {
  RGB: { BC5: ' (no blue)' },
  RGBA: { BC1: ' (A is one bit)' },
};

/** In words: `R translucency, G roughness, B 1 − height, A opacity; 8 bits, half the size`. */
export function packedWords({ as, bits, halvings, fills, format, blocks = 'none' }: PackedFile): string {
  const channels = PACKED_AS[as].map((name, i) => `${name} ${fillWords(fills[i])}`).join(', ');
  const size = ['', ', half the size', ', a quarter of the size'][halvings];
  const kept =
    format === 'dds' || format === 'ktx2'
      ? `all levels${blocks === 'none' ? '' : `, ${blocks}${BLOCKS_LEAVE[as]?.[blocks] ?? ''}`}`
      : `${bits} bits`;
  return `${channels}; ${kept}${size}`;
}

function fillWords(fill: ChannelFill): string {
  if ('value' in fill) return String(fill.value);
  const { label, channels } = mapKind(fill.map);
  return `${fill.inverted ? '1 − ' : ''}${label}${channels > 1 ? ` ${fill.channel}` : ''}`;
}

/** Maps that channels name and the run does not make: those channels are neutral. */
export function missingIn({ fills }: PackedFile, maps: ReadonlySet<MapName>): MapName[] {
  const named = fills.flatMap((fill) => ('map' in fill ? [fill.map] : []));
  return [...new Set(named)].filter((map) => map !== 'colour' && map !== 'mask' && !maps.has(map));
}

/** Those in words, to follow the channels; empty: none. */
export function missingWords(packed: PackedFile, maps: ReadonlyMap<MapName, unknown>): string {
  const missing = missingIn(packed, new Set(maps.keys())).map((map) => mapKind(map).label);
  return missing.length ? `; neutral, since the run does not make it: ${missing.join(', ')}` : '';
}

/** Maps that no file of a packing holds, as people call them: said once, of the last file. */
export function notHeldBy(
  { slot, packed }: PicturePlan | TexturePlan,
  maps: ReadonlySet<MapName>,
  { handOff: { packing = [...PACKING_AT_FIRST] } }: Pick<PieceDoc, 'handOff'>,
): string[] {
  if (!packed || slot !== packing.at(-1)?.name) return [];
  const held = packing.flatMap(({ fills }) => fills.map((fill) => ('map' in fill ? fill.map : null)));
  return [...maps].filter((map) => !held.includes(map)).map((map) => mapKind(map).label);
}

/**
 * The texels of such a file. Values are written as they are: colours in their encoding, 8 bits as 16 by 257 and back by
 * rounding. A smaller one has the mip level of each map, made as that map's levels are.
 */
export function packedRaster(
  { as, bits, halvings, fills }: PackedFile,
  state: RunState,
  handOff: Pick<PieceDoc['handOff'], 'green'>,
): Raster<Samples> {
  const levels = new Map<MapName, Raster<Samples> | null>();
  const levelOf = (map: MapName) => {
    if (!levels.has(map)) levels.set(map, levelAt(map, state, halvings, handOff));
    return levels.get(map)!;
  };
  const width = Math.max(1, state.colour.width >> halvings);
  const height = Math.max(1, state.colour.height >> halvings);
  return channelsOf({ as, bits, fills }, width, height, levelOf);
}

/** Channels filled from maps of one size. @param levelOf - Null where the run makes no such map: its neutral value. */
export function channelsOf(
  { as, bits, fills }: Pick<PackedFile, 'as' | 'bits' | 'fills'>,
  width: number,
  height: number,
  levelOf: (map: MapName) => Raster<Samples> | null,
): Raster<Samples> {
  const count = PACKED_AS[as].length;
  const full = bits === 8 ? 255 : 65535;
  const length = count * width * height;
  const data = bits === 8 ? new Uint8Array(length) : allocate16(length, allocateHeap);
  for (const [c, fill] of fills.entries()) {
    if ('value' in fill) {
      const value = Math.floor(fill.value * full + 0.5);
      for (let i = c; i < length; i += count) data[i] = value;
    } else put(levelOf(fill.map), fill, full, data, c, count);
  }
  return { width, height, channels: count, data };
}

/** Of a map that the run does not make, its neutral value. */
function put(
  level: Raster<Samples> | null,
  { map, channel, inverted }: Extract<ChannelFill, { map: MapName }>,
  full: number,
  out: Samples,
  c: number,
  count: number,
): void {
  const { channels, neutral, depth } = mapKind(map);
  const k = channels > 1 ? ['red', 'green', 'blue'].indexOf(channel) : 0;
  const own = (level ? level.data instanceof Uint8Array : depth === 8) ? 255 : 65535;
  const flip = inverted ? own : 0;
  const [from, step] = level ? [level.data, level.channels] : [Uint16Array.of(...neutral), 0];
  if (own === full) for (let i = c, j = k; i < out.length; i += count, j += step) out[i] = from[j] ^ flip;
  else if (own < full) for (let i = c, j = k; i < out.length; i += count, j += step) out[i] = (from[j] ^ flip) * 257;
  else for (let i = c, j = k; i < out.length; i += count, j += step) out[i] = ((from[j] ^ flip) * 255 + 32895) >>> 16;
}

function levelAt(
  map: MapName,
  state: RunState,
  halvings: number,
  handOff: Pick<PieceDoc['handOff'], 'green'>,
): Raster<Samples> | null {
  const raster = map === 'normal' ? mapRaster(map, state, handOff) : mapsOf(state).get(map);
  if (!raster) return null;
  if (halvings === 0) return raster;
  const levels = mapMips(map, raster);
  return levels[Math.min(halvings, levels.length) - 1] ?? raster;
}
