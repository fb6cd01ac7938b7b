import { hasDrawnAlpha, hasPlainBorder, looksLikeMask, type SourceFacts } from './source-facts.ts';
import type { FromColourParams } from '../steps/from-colour.ts';
import { STEP_KINDS } from '../steps/registry.ts';
import { makeStep, type SourceRef, type SourceRole, type StepEntry } from './piece-doc.ts';

/** Endings by which artists name the mask that belongs to a colour picture (common practice). */
const MASK_ENDINGS = ['mask', 'alpha', 'opacity', 'opac', 'cutout', 'm', 'a', 'o'];
const COLOUR_ENDINGS = ['colour', 'color', 'col', 'albedo', 'diffuse', 'diff', 'base', 'basecolor', 'c', 'd', 'rgb'];

/**
 * The run that fits the sources of a new piece: alpha present → that channel; a mask picture → its luminance; a plain
 * backdrop → the border's colour dropped. Nothing otherwise: a snag then says that no mask is derived.
 */
export function startingRun(
  sources: readonly { ref: SourceRef; facts: SourceFacts }[],
  makeId: () => string,
): StepEntry[] {
  const [colour, ...others] = sources;
  if (!colour) return [];
  const mask = others.find((s) => looksLikeMask(s.facts) || nameRole(s.ref.fileName).role === 'mask');
  if (mask) {
    const sameSize = mask.facts.width === colour.facts.width && mask.facts.height === colour.facts.height;
    const channel = mask.facts.alpha === 'present' && !mask.facts.grey ? 'alpha' : 'luminance';
    const step = makeStep(makeId(), 'from-channel', { sourceId: mask.ref.id, channel, fit: 'refuse' });
    return [step, ...(sameSize ? [makeStep(makeId(), 'bleed')] : [])];
  }
  if (hasDrawnAlpha(colour.facts)) return [makeStep(makeId(), 'from-channel', { channel: 'alpha' })];
  if (looksLikeMask(colour.facts)) return [makeStep(makeId(), 'from-channel', { channel: 'luminance' })];
  if (hasPlainBorder(colour.facts)) {
    return [makeStep(makeId(), 'from-colour', dropBackdrop(colour.facts)), makeStep(makeId(), 'bleed')];
  }
  return [];
}

/** Drops the border's colour, with a tolerance that covers how unevenly the backdrop is lit. */
export function dropBackdrop({ border }: SourceFacts): Pick<FromColourParams, 'drop' | 'tolerance' | 'softness'> {
  const { softness } = STEP_KINDS['from-colour'].defaults;
  const reach = border.spread + softness / 2 + 0.015; // the whole ramp beyond what the border swings, and some grain
  return { drop: [border.colour], tolerance: Math.round(1000 * Math.max(0.06, reach)) / 1000, softness };
}

/** What a file name says of a picture: `reed_mask.png` is the mask of stem `reed`. */
export function nameRole(fileName: string): { stem: string; role: 'mask' | 'colour' | 'plain' } {
  const bare = fileName.replace(/\.[^.]*$/, '').toLowerCase();
  const match = /^(.+?)[_\-. ]([a-z]+)$/.exec(bare);
  if (match && MASK_ENDINGS.includes(match[2])) return { stem: match[1], role: 'mask' };
  if (match && COLOUR_ENDINGS.includes(match[2])) return { stem: match[1], role: 'colour' };
  return { stem: bare, role: 'plain' };
}

const HEIGHT_ENDINGS = ['height', 'disp', 'displacement', 'h', 'bump', 'depth'];
const BACKDROP_ENDINGS = ['dark', 'light', 'black', 'white', 'pale', 'bg', 'backdrop'];

/** What a further source is most likely for, by its name and by what it holds. */
export function guessRole(fileName: string, facts: SourceFacts): SourceRole {
  const ending = /[_\-. ,]+([a-z]+)$/.exec(fileName.replace(/\.[^.]*$/, '').toLowerCase())?.[1] ?? '';
  if (HEIGHT_ENDINGS.includes(ending)) return 'height';
  if (nameRole(fileName).role === 'mask' || looksLikeMask(facts)) return 'mask';
  if (BACKDROP_ENDINGS.includes(ending) && hasPlainBorder(facts)) return 'other backdrop';
  return 'reference';
}

/** Groups files that belong together by name: the colour picture first, then its mask. All others stand alone. */
export function pairByName<T extends { fileName: string }>(files: readonly T[]): T[][] {
  const groups: T[][] = [];
  const used = new Set<T>();
  for (const file of files) {
    const { stem, role } = nameRole(file.fileName);
    if (role === 'mask' || used.has(file)) continue;
    used.add(file);
    const mask = files.find((other) => {
      const its = nameRole(other.fileName);
      return !used.has(other) && its.role === 'mask' && its.stem === stem;
    });
    if (mask) used.add(mask);
    groups.push(mask ? [file, mask] : [file]);
  }
  for (const file of files) if (!used.has(file)) groups.push([file]);
  return groups;
}
