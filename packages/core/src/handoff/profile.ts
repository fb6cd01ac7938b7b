import type { DecodedPicture } from '../codec/picture.ts';
import { cardSize } from '../glb/card.ts';
import { writeCardGlb } from '../glb/write.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { Raster } from '../raster/raster.ts';
import { withMaskAsAlpha, withoutAlpha } from '../run/compose.ts';
import type { RunState } from '../steps/step.ts';
import { fileStem } from './file-name.ts';
import type { MapKind, ProfileId } from './profile-id.ts';

/** A file that a profile writes. */
export interface FilePlan {
  map: MapKind;
  extension: 'glb' | 'png';
  /** What its texels hold. */
  holds: 'rgba' | 'rgb' | 'mask';
  says: string;
}

export interface Profile {
  id: ProfileId;
  label: string;
  says: string;
  files: readonly FilePlan[];
}

/** How a hand-off is packed. A new profile is one entry here. */
export const PROFILES: readonly Profile[] = [
  {
    id: 'glb',
    label: 'Card as GLB',
    says: 'glTF 2.0 in one file: the card in metres, the material, colour and alpha in one PNG inside.',
    files: [{ map: 'card', extension: 'glb', holds: 'rgba', says: 'card, material, colour + alpha' }],
  },
  {
    id: 'rgba-png',
    label: 'Colour + alpha in one PNG',
    says: 'For targets that clip by the alpha channel of the base colour.',
    files: [{ map: 'base', extension: 'png', holds: 'rgba', says: 'RGBA, 8 bits each, straight alpha' }],
  },
  {
    id: 'rgb-and-mask',
    label: 'Colour PNG and mask PNG',
    says: 'For targets with a slot of its own for the opacity mask.',
    files: [
      { map: 'base', extension: 'png', holds: 'rgb', says: 'RGB, 8 bits each, no alpha' },
      { map: 'mask', extension: 'png', holds: 'mask', says: 'grey, 8 bits: white kept, black dropped' },
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
  raster: Raster;
}

export interface PackTools {
  encodePng(raster: Raster): Promise<Uint8Array>;
  decodePng(bytes: Uint8Array): Promise<DecodedPicture>;
  /** Every issue that the official glTF validator finds, at any severity of error or warning. */
  validateGlb(bytes: Uint8Array): Promise<string[]>;
  progress?(share: number, doing: string): void;
}

/** The raster that a plan puts into its file. */
export function rasterFor(plan: FilePlan, state: RunState): Raster {
  if (plan.holds === 'rgba') return withMaskAsAlpha(state);
  return plan.holds === 'rgb' ? withoutAlpha(state.colour) : state.mask;
}

/** Writes the files of the piece's profile. */
export async function packHandOff(doc: PieceDoc, state: RunState, tools: PackTools): Promise<HandOffFile[]> {
  const { files } = profileOf(doc.handOff.profile);
  const out: HandOffFile[] = [];
  for (const [i, plan] of files.entries()) {
    const name = `${fileStem(doc, plan.map, state.colour)}.${plan.extension}`;
    tools.progress?.(i / files.length, `Writing ${name}`);
    const raster = rasterFor(plan, state);
    const png = await tools.encodePng(raster);
    const bytes =
      plan.extension === 'png'
        ? png
        : writeCardGlb({ name: doc.name, card: cardSize(doc.cardWidth, state.colour), material: doc.material, png });
    out.push({ name, plan, bytes, raster });
  }
  return out;
}
