import type { DecodedPicture } from '../codec/picture.ts';
import { cardSurface } from '../card/kinds.ts';
import { writeCardGlb } from '../glb/write.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { MapName } from '../raster/maps.ts';
import type { Raster, Samples } from '../raster/raster.ts';
import { mapsOf, type RunState } from '../raster/run-state.ts';
import { withMaskAsAlpha, withoutAlpha } from '../run/compose.ts';
import { fileStem } from './file-name.ts';
import type { FileSlot, ProfileId } from './profile-id.ts';

/** A file that a profile writes. */
export interface FilePlan {
  slot: FileSlot;
  extension: 'glb' | 'png';
  /** One map, or colour with the mask as its alpha. */
  holds: MapName | 'colour and mask';
  /** For a person, a few words. */
  contents: string;
}

export interface Profile {
  id: ProfileId;
  label: string;
  hint: string;
  files: readonly FilePlan[];
}

/** How a hand-off is packed. A new profile is one entry here. */
export const PROFILES: readonly Profile[] = [
  {
    id: 'glb',
    label: 'Card as GLB',
    hint: 'glTF 2.0 in one file: the card in metres, the material, colour and alpha in one PNG inside.',
    files: [{ slot: 'card', extension: 'glb', holds: 'colour and mask', contents: 'card, material, colour + alpha' }],
  },
  {
    id: 'rgba-png',
    label: 'Colour + alpha in one PNG',
    hint: 'For targets that clip by the alpha channel of the base colour.',
    files: [
      { slot: 'base', extension: 'png', holds: 'colour and mask', contents: 'RGBA, 8 bits each, straight alpha' },
    ],
  },
  {
    id: 'rgb-and-mask',
    label: 'Colour PNG and mask PNG',
    hint: 'For targets with a slot of its own for the opacity mask.',
    files: [
      { slot: 'base', extension: 'png', holds: 'colour', contents: 'RGB, 8 bits each, no alpha' },
      { slot: 'mask', extension: 'png', holds: 'mask', contents: 'grey, 8 bits: white kept, black dropped' },
    ],
  },
];

export function profileOf(id: ProfileId): Profile {
  return PROFILES.find((p) => p.id === id) ?? PROFILES[0];
}

export interface HandOffFile {
  name: string;
  plan: FilePlan;
  bytes: Uint8Array;
  /** What was written, and must be found in it. */
  raster: Raster<Samples>;
}

export interface PackTools {
  encodePng(raster: Raster<Samples>): Promise<Uint8Array>;
  decodePng(bytes: Uint8Array): Promise<DecodedPicture>;
  /** Every issue that the official glTF validator finds, at any severity of error or warning. */
  validateGlb(bytes: Uint8Array): Promise<string[]>;
  progress?(share: number, doing: string): void;
}

/** The raster that a plan puts into its file; null where the run makes no such map. */
export function rasterFor({ holds }: FilePlan, state: RunState): Raster<Samples> | null {
  if (holds === 'colour and mask') return withMaskAsAlpha(state);
  return holds === 'colour' ? withoutAlpha(state.colour) : (mapsOf(state).get(holds) ?? null);
}

/** Writes the files of a profile; a file for a map that the run does not make is left out. */
export async function packHandOff(
  doc: PieceDoc,
  state: RunState,
  tools: PackTools,
  { files }: Profile = profileOf(doc.handOff.profile),
): Promise<HandOffFile[]> {
  const out: HandOffFile[] = [];
  for (const [i, plan] of files.entries()) {
    const raster = rasterFor(plan, state);
    if (!raster) continue;
    const name = `${fileStem(doc, plan.slot, state.colour)}.${plan.extension}`;
    tools.progress?.(i / files.length, `Writing ${name}`);
    const png = await tools.encodePng(raster);
    const bytes =
      plan.extension === 'png'
        ? png
        : writeCardGlb({
            name: doc.name,
            surface: cardSurface(doc, state.colour),
            material: doc.material,
            png,
          });
    out.push({ name, plan, bytes, raster });
  }
  return out;
}
