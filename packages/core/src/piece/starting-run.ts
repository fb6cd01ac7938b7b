import { hasDrawnAlpha, hasPlainBorder, looksLikeMask, type SourceFacts } from './source-facts.ts';
import type { FromColourParams } from '../steps/from-colour.ts';
import { LIGHTS } from '../steps/maps/normal-from-lights.ts';
import { VALUE_MAPS, type ValueMapName } from '../steps/maps/value-map.ts';
import { STEP_KINDS } from '../steps/registry.ts';
import { readName, saysGreenDown } from './file-roles.ts';
import { makeStep, type SourceRef, type SourceRole, type StepEntry } from './piece-doc.ts';

/**
 * The run that fits the sources of a new piece: alpha present → that channel; a mask picture → its luminance; a plain
 * backdrop → the border's colour dropped; the same on another backdrop → both; a further source that holds a map → its step. Nothing otherwise: a snag then says that no mask is derived.
 */
export function startingRun(
  sources: readonly { ref: SourceRef; facts: SourceFacts }[],
  makeId: () => string,
): StepEntry[] {
  const [colour, ...others] = sources;
  if (!colour) return [];
  return [...maskSteps(colour, others, makeId), ...mapSteps(colour, others, makeId)];
}

function maskSteps(colour: Known, others: readonly Known[], makeId: () => string): StepEntry[] {
  const roleOf = ({ ref, facts }: Known) => ref.role ?? guessRole(ref.fileName, facts);
  const mask = others.find((s) => roleOf(s) === 'mask');
  if (mask) {
    const sameSize = mask.facts.width === colour.facts.width && mask.facts.height === colour.facts.height;
    const channel = mask.facts.alpha === 'present' && !mask.facts.grey ? 'alpha' : 'luminance';
    const step = makeStep(makeId(), 'from-channel', { sourceId: mask.ref.id, channel, fit: 'refuse' });
    return [step, ...(sameSize ? [makeStep(makeId(), 'bleed')] : [])];
  }
  const backdrop = others.find((s) => roleOf(s) === 'other backdrop');
  if (backdrop) {
    return [makeStep(makeId(), 'from-two-backdrops', { sourceId: backdrop.ref.id }), makeStep(makeId(), 'bleed')];
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

/** What a further source is most likely for, by its name and by what it holds. */
export function guessRole(fileName: string, facts: SourceFacts): SourceRole {
  const { role } = readName(fileName);
  if (role === 'other backdrop') return hasPlainBorder(facts) ? role : 'reference';
  if (role && role !== 'colour') return role;
  return looksLikeMask(facts) ? 'mask' : 'reference';
}

type Known = { ref: SourceRef; facts: SourceFacts };

/** A step for each further source that holds a map. */
function mapSteps(colour: Known, others: readonly Known[], makeId: () => string): StepEntry[] {
  const steps: StepEntry[] = [];
  for (const { ref, facts } of others) {
    const role = ref.role ?? guessRole(ref.fileName, facts);
    const sameSize = facts.width === colour.facts.width && facts.height === colour.facts.height;
    const from = { sourceId: ref.id, fit: sameSize ? ('refuse' as const) : ('scale' as const) };
    if (role === 'height') steps.push(makeStep(makeId(), 'height-from-picture', from));
    else if (role === 'normal') {
      const green = saysGreenDown(ref.fileName) ? 'DirectX' : 'OpenGL';
      steps.push(makeStep(makeId(), 'normal-from-picture', { ...from, green }));
    } else if (role in VALUE_MAPS) {
      const plain = { from: 'channel', inverted: false, low: 0, high: 1 } as const;
      steps.push(makeStep(makeId(), role as ValueMapName, { ...from, ...plain }));
    }
  }
  const lit = others.filter(({ ref }) => ref.role === 'lit').map(({ ref }) => ref.id);
  const all = lit.length > 0 && lit.length < LIGHTS.most ? [colour.ref.id, ...lit] : lit;
  if (all.length >= LIGHTS.least) {
    const lights = all.map((sourceId, i) => ({ sourceId, azimuth: Math.round((360 * i) / all.length), elevation: 45 }));
    steps.push(makeStep(makeId(), 'normal-from-lights', { lights, colour: 'as it is' }));
  }
  return steps;
}
