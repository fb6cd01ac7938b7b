import { PACKING_AT_FIRST, type PackedFile } from '../piece/packing.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { ProfileId } from '../piece/profile-id.ts';
import type { Target } from '../piece/target.ts';
import type { RunState } from '../raster/run-state.ts';
import { formatOf } from './formats.ts';
import { filesOf } from './profile.ts';
import { targetOf } from './target-of.ts';

type Size = { width: number; height: number };

/** Bytes on a graphics card of all that a hand-off writes. @param size - Of the whole. @param state - Of any size. */
export function bytesOnCard(doc: PieceDoc, size: Size, state: RunState): number {
  return filesOf(doc).reduce((sum, plan) => sum + formatOf(plan).onCard(plan, size, state), 0);
}

/** A change of a hand-off that takes fewer bytes on the card. */
export interface Saving {
  label: string;
  bytes: number;
  handOff: Partial<PieceDoc['handOff']>;
}

/** Block formats that hold what the profile holds. */
const IN_BLOCKS: Partial<Record<ProfileId, ProfileId[]>> = {
  'rgba-png': ['dds-bc7', 'dds-bc1'],
  'dds-rgba': ['dds-bc7', 'dds-bc1'],
  'dds-bc7': ['dds-bc1'],
  'dds-bc3': ['dds-bc1'],
};
const BLOCK_LABELS: Partial<Record<ProfileId, string>> = { 'dds-bc7': 'In BC7', 'dds-bc1': 'In BC1' };

/** What another block format, halving, fewer bits, or leaving a file out would save; the most first. */
export function savingsOf(doc: PieceDoc, size: Size, state: RunState): Saving[] {
  const { profile, packing = [...PACKING_AT_FIRST] } = doc.handOff;
  const now = bytesOnCard(doc, size, state);
  const ways: Omit<Saving, 'bytes'>[] = (IN_BLOCKS[profile] ?? []).map((other) => ({
    label: BLOCK_LABELS[other]!,
    handOff: { profile: other },
  }));
  if (profile === 'own-packing') ways.push(...packing.flatMap((file, at) => waysOf(packing, file, at, targetOf(doc))));
  return ways
    .map((way) => ({
      ...way,
      bytes: now - bytesOnCard({ ...doc, handOff: { ...doc.handOff, ...way.handOff } }, size, state),
    })) // prettier-ignore
    .filter(({ bytes }) => bytes > 0)
    .sort((a, b) => b.bytes - a.bytes);
}

const holdsColour = ({ fills }: PackedFile) => fills.some((fill) => 'map' in fill && fill.map === 'colour');

function waysOf(packing: PackedFile[], file: PackedFile, at: number, target: Target): Omit<Saving, 'bytes'>[] {
  const changed = (label: string, values: Partial<PackedFile>) => ({
    label,
    handOff: { packing: packing.map((one, i) => (i === at ? { ...one, ...values } : one)) },
  });
  const ways: Omit<Saving, 'bytes'>[] = [];
  if (file.halvings < 2) ways.push(changed(`Half of ${file.name}`, { halvings: file.halvings === 0 ? 1 : 2 }));
  if (file.bits === 16) ways.push(changed(`${file.name} in 8 bits`, { bits: 8 }));
  const { channel } = target;
  const isNeeded = (target.opacity === 'a channel' && channel?.file === file.name) || holdsColour(file);
  if (packing.length > 1 && !isNeeded) {
    ways.push({ label: `Without ${file.name}`, handOff: { packing: packing.filter((_, i) => i !== at) } });
  }
  return ways;
}
