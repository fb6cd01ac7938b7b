import { PACKING_AT_FIRST, type ChannelFill, type PackedFile } from '../piece/packing.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { MAPS, mapKind, type MapName } from '../raster/maps.ts';
import { isPicture, isTexture, type FilePlan, type TexturePlan } from './file-plan.ts';
import { filesOf } from './profile.ts';

const CHANNELS = ['red', 'green', 'blue'] as const;

/**
 * The files of a shipped profile as a packing that can be changed; null where it writes what no packing holds: distances, a
 * card.
 *
 * @param made - Maps that the run makes: files of others are left out.
 */
export function packingOf(
  doc: Pick<PieceDoc, 'handOff' | 'sources' | 'run'>,
  made: ReadonlySet<MapName>,
): PackedFile[] | null {
  const { handOff } = doc;
  if (handOff.profile === 'own-packing') return handOff.packing ?? [...PACKING_AT_FIRST];
  const files = filesOf({ ...doc, sources: [] });
  const packed = files.map((plan) => packedAs(plan, made));
  return packed.includes(null) ? null : (packed as (PackedFile | 'not made')[]).filter((file) => file !== 'not made');
}

function packedAs(plan: FilePlan, made: ReadonlySet<MapName>): PackedFile | 'not made' | null {
  if (isTexture(plan)) return plan.packed ?? asTexture(plan);
  if (!isPicture(plan) || plan.divisor || plan.holds === 'packed') return null;
  const { slot, holds } = plan;
  const file = (as: PackedFile['as'], bits: PackedFile['bits'], fills: ChannelFill[]): PackedFile => ({ name: slot, as, bits, halvings: 0, fills }); // prettier-ignore
  const three = (map: MapName) => CHANNELS.map((channel) => ({ map, channel, inverted: false }));
  if (holds === 'colour and mask') return file('RGBA', 8, [...three('colour'), fill('mask')]);
  if (holds === 'colour') return file('RGB', 8, three('colour'));
  const maps = holds.split(', ').filter((map): map is MapName => map in MAPS);
  if (holds !== 'mask' && !maps.some((map) => made.has(map))) return 'not made';
  if (maps.length === 3) return file('RGB', 8, maps.map(fill));
  const [map] = maps;
  const { channels, depth, holds: kind } = mapKind(map);
  if (kind === 'colour') return file('RGBA', 8, [...three(map), fill('mask')]);
  return channels === 1 ? file('grey', depth, [fill(map)]) : file('RGB', depth, three(map));
}

/** Colour and alpha with their levels. */
function asTexture({ slot, extension, texels }: TexturePlan): PackedFile {
  const fills: ChannelFill[] = [
    ...CHANNELS.map((channel) => ({ map: 'colour' as const, channel, inverted: false })),
    fill('mask'),
  ];
  const blocks = texels === 'BC1' || texels === 'BC3' || texels === 'BC7' ? texels : 'none';
  return { name: slot, as: 'RGBA', bits: 8, halvings: 0, format: extension, blocks, fills };
}

const fill = (map: MapName): ChannelFill => ({ map, channel: 'red', inverted: false });
