import type { ChannelFill, PackedFile } from '../piece/packing.ts';
import { PACKED_AS } from '../piece/packing.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import { allocate16, allocateHeap, type Raster, type Samples } from '../raster/raster.ts';
import { mapsOf, type RunState } from '../raster/run-state.ts';
import { mapMips } from '../sieve/map-mips.ts';
import type { PicturePlan } from './file-plan.ts';
import { mapRaster } from './map-files.ts';

/** The plans of a packing of one's own. */
export function packedPlans(files: readonly PackedFile[]): PicturePlan[] {
  return files.map((packed) => ({
    slot: packed.name,
    extension: packed.format ?? 'png',
    holds: 'packed',
    packed,
    contents: packedWords(packed),
  }));
}

/** In words: `R translucency, G roughness, B 1 − height, A opacity; 8 bits, half the size`. */
export function packedWords({ as, bits, halvings, fills }: PackedFile): string {
  const channels = PACKED_AS[as].map((name, i) => `${name} ${fillWords(fills[i])}`).join(', ');
  const size = ['', ', half the size', ', a quarter of the size'][halvings];
  return `${channels}; ${bits} bits${size}`;
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

/**
 * The texels of such a file. Values are written as they are: colours in their encoding, 8 bits as 16 by 257 and back by
 * rounding. A smaller one has the mip level of each map, made as that map's levels are.
 */
export function packedRaster(
  { as, bits, halvings, fills }: PackedFile,
  state: RunState,
  handOff: Pick<PieceDoc['handOff'], 'green'>,
): Raster<Samples> {
  const count = PACKED_AS[as].length;
  const levels = new Map<MapName, Raster<Samples> | null>();
  const levelOf = (map: MapName) => {
    if (!levels.has(map)) levels.set(map, levelAt(map, state, halvings, handOff));
    return levels.get(map)!;
  };
  const width = Math.max(1, state.colour.width >> halvings);
  const height = Math.max(1, state.colour.height >> halvings);
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
