import { CARD_SIDES } from '../card/sides.ts';
import { formatOf } from '../handoff/formats.ts';
import { filesOf, profileOf } from '../handoff/profile.ts';
import { targetOf } from '../handoff/target-of.ts';
import { MATERIAL_SLOTS } from '../material/slots.ts';
import { CLIP_DRAWING_DEFAULTS } from '../sieve/drawn/draw-clip.ts';
import { readName } from '../piece/file-roles.ts';
import { PACKING_AT_FIRST } from '../piece/packing.ts';
import { stepKind } from '../steps/registry.ts';
import { endOfStretch, makeStep, type PieceDoc, type StepEntry } from '../piece/piece-doc.ts';
import type { SnagCheck } from './snag.ts';

/** A way to show it that the target of its profile does not have. */
export const targetMode: SnagCheck = ({ doc }) => {
  const { clips, blends } = targetOf(doc);
  const { mode } = doc.material;
  const to = (other: 'mask' | 'blend') => (d: PieceDoc) => ({ ...d, material: { ...d.material, mode: other } });
  if (mode === 'mask' && !clips) {
    const text = 'Its target does not clip: the mask would be left out, or shown as a blend.';
    return { id: 'target-mode', text, ...(blends ? { remedy: { label: 'Blend it', apply: to('blend') } } : {}) };
  }
  if (mode === 'blend' && !blends) {
    const text = 'Its target does not blend: alpha would be left out, or clipped at a cutoff of its own.';
    return { id: 'target-mode', text, ...(clips ? { remedy: { label: 'Clip it', apply: to('mask') } } : {}) };
  }
  return null;
};

/** Both sides are to be seen, and the target shows one. */
export const targetSides: SnagCheck = ({ doc }) => {
  if (targetOf(doc).twoSided || !doc.material.doubleSided) return null;
  return {
    id: 'target-sides',
    text: 'Its target shows the front of a triangle alone: the back of the card would be empty.',
    remedy: {
      label: 'Give the back triangles of its own',
      apply: (d) => ({ ...d, sides: d.sides ?? CARD_SIDES, material: { ...d.material, doubleSided: false } }),
    },
  };
};

/** Of a size that the target scales, or refuses. */
export const targetSize: SnagCheck = ({ doc, size }) => {
  const { powerOfTwo, largest } = targetOf(doc);
  if (!size) return null;
  const side = Math.max(size.width, size.height);
  if (side > largest) {
    return {
      id: 'target-size',
      text: `${side} texels are more than the ${largest} that its target takes: it would be scaled there.`,
      remedy: { label: `Resize it to ${largest}`, apply: (d, makeId) => withStep(d, makeStep(makeId(), 'resize', { by: 'longer side', side: largest })) }, // prettier-ignore
    };
  }
  const fits = [size.width, size.height].every((n) => Number.isInteger(Math.log2(n)));
  if (!powerOfTwo || fits) return null;
  return {
    id: 'target-size',
    text: `${size.width} × ${size.height} are no powers of two, which its target needs: it would be scaled there.`,
    remedy: { label: 'Lay it in powers of two', apply: padded },
  };
};

function padded(doc: PieceDoc, makeId: () => string): PieceDoc {
  const nothing = { left: 0, right: 0, top: 0, bottom: 0 };
  return withStep(doc, makeStep(makeId(), 'pad', { ...nothing, sides: 'power of two' }));
}

function withStep(doc: PieceDoc, step: StepEntry): PieceDoc {
  const run = [...doc.run];
  run.splice(endOfStretch(run, step.kind), 0, step);
  return { ...doc, run };
}

/** The target takes opacity from what no file is. */
export const targetOpacity: SnagCheck = ({ doc }) => {
  if (doc.handOff.profile !== 'own-packing') return null;
  const { opacity, channel } = targetOf(doc);
  const names = filesOf(doc).map((f) => f.slot);
  const isCalled = (role: string) => names.some((name) => readName(`x_${name}`).role === role);
  const id = 'target-opacity';
  if (opacity === 'a channel' && !names.includes(channel?.file ?? '')) {
    const text = `Its target takes opacity from ${channel?.file ?? 'a file'}, and no file is called so.`;
    return { id, text, remedy: { label: 'Take it from the alpha of the colour', apply: fromAlpha } };
  }
  if ((opacity === 'mask picture' || opacity === 'transparency picture') && !isCalled('mask')) {
    const text = `Its target takes opacity from a ${opacity}, and no file is one: call one mask.`;
    return {
      id,
      text,
      remedy: { label: 'Add one', apply: (d) => withMaskFile(d, opacity === 'transparency picture') },
    };
  }
  return null;
};

const fromAlpha = (doc: PieceDoc): PieceDoc => ({
  ...doc,
  handOff: { ...doc.handOff, target: { ...targetOf(doc), opacity: 'alpha of the colour', channel: undefined } },
});

function withMaskFile(doc: PieceDoc, inverted: boolean): PieceDoc {
  const { packing = [...PACKING_AT_FIRST] } = doc.handOff;
  const fills = [{ map: 'mask' as const, channel: 'red' as const, inverted }];
  return { ...doc, handOff: { ...doc.handOff, packing: [...packing, { name: 'mask', as: 'grey', bits: 8, halvings: 0, fills }] } }; // prettier-ignore
}

/** Scene files that carry the whole look, or say what they leave out. */
const CARDS = ['glb', 'gltf', 'usda', 'usdz', 'mtl'];

/** What the target would show, and the scene file has no place for. */
export const targetLeftOut: SnagCheck = ({ doc, surface }) => {
  const plan = filesOf(doc).find((f) => CARDS.includes(f.extension));
  if (!plan) return null;
  // a recipe brings maps that no step makes
  const made = surface?.maps.keys() ?? doc.run.flatMap(({ on, kind }) => (on ? (stepKind(kind).makes ?? []) : []));
  // what only other steps look at is missed by nobody
  const seen = new Set([...made].filter((map) => Object.values(MATERIAL_SLOTS).some((slot) => slot.map === map)));
  const words = formatOf(plan).leavesOut(plan, seen, { ...doc, drawn: CLIP_DRAWING_DEFAULTS }); // how it is drawn is the target’s
  if (words.length === 0) return null;
  const { label } = profileOf(doc.handOff.profile);
  return {
    id: 'target-left-out',
    text: `“${label}” has no place for ${words.join(', ')}: a target will not see it.`,
    remedy: {
      label: plan.extension === 'glb' ? 'Hand off every map' : 'Hand off a GLB',
      apply: (d) => ({ ...d, handOff: { ...d.handOff, profile: plan.extension === 'glb' ? 'described' : 'glb' } }),
    },
  };
};
