import { endOfStretch, makeStep, type PieceDoc, type StepEntry } from '../piece/piece-doc.ts';
import { stepKind, type StepKindName } from '../steps/registry.ts';
import type { SnagCheck } from './snag.ts';

const withParams = (doc: PieceDoc, step: StepEntry, params: object): PieceDoc => ({
  ...doc,
  run: doc.run.map((s) =>
    s.id === step.id ? ({ ...s, on: true, params: { ...s.params, ...params } } as StepEntry) : s,
  ),
});

const lastOf = (doc: PieceDoc, kind: StepKindName) => doc.run.filter((s) => s.kind === kind && s.on).at(-1);

/** The filtered edge takes on colour from under the mask. */
export const halo: SnagCheck = ({ doc, surface }) => {
  if (!surface || doc.material.mode === 'opaque') return null;
  const { worst, from } = surface.halo;
  if (!from) return null;
  const text = `Halo: hidden colour shows in the edge at ${worst.width} × ${worst.height} (${worst.away.toFixed(2)} OKLab).`;
  const bleeds = doc.run.find((s) => s.kind === 'bleed');
  if (!bleeds) {
    return {
      id: 'halo',
      text,
      where: from,
      remedy: {
        label: 'Bleed the colour outwards',
        apply: (d, makeId) => ({ ...d, run: withBleed(d, makeStep(makeId(), 'bleed', { trust: 0.9 })) }),
      },
    };
  }
  return {
    id: 'halo',
    text,
    where: from,
    remedy: {
      label: 'Bleed from whole texels, everywhere',
      apply: (d) => withParams(d, bleeds, { trust: 0.95, under: 'below that alpha', reach: 0 }),
    },
  };
};

/** Behind the last step of the colour. */
function withBleed({ run }: PieceDoc, step: StepEntry): StepEntry[] {
  const at = run.findLastIndex((s) => ['mask', 'colour'].includes(stepKind(s.kind).stretch));
  return run.toSpliced(at + 1, 0, step);
}

/** A normal map where the colour should be. */
export const colourIsNormals: SnagCheck = ({ doc, surface }) => {
  if (!surface?.colourIsNormals) return null;
  const [first] = doc.sources;
  const read = doc.run.some((s) => s.kind === 'normal-from-picture' && s.on && s.params.sourceId === first?.id);
  return {
    id: 'colour-is-normals',
    text: 'A normal map in the place of the colour: replace it by the colour, and take this one in “Normal: picture”.',
    ...(first && !read
      ? {
          remedy: {
            label: 'Take it as normals',
            apply: (d, makeId) => ({
              ...d,
              run: d.run.toSpliced(
                endOfStretch(d.run, 'normal-from-picture'),
                0,
                makeStep(makeId(), 'normal-from-picture', { sourceId: first.id, blend: 'replace' }),
              ),
            }),
          },
        }
      : {}),
  };
};

/** A map of one value all over. */
export const flatRoughness: SnagCheck = ({ doc, surface }) => {
  const stats = surface?.maps.get('roughness');
  const step = lastOf(doc, 'roughness');
  if (!stats || stats.channels[0].distinct !== 1 || step?.kind !== 'roughness') return null;
  const chosen = step.params.from === 'one value';
  return {
    id: 'roughness-flat',
    text: `Roughness is ${stats.channels[0].mean.toFixed(2)} all over: a factor of the material does that without a texture.`,
    ...(chosen
      ? { remedy: { label: 'Take it from the picture', apply: (d) => withParams(d, step, { from: 'channel' }) } }
      : {}),
  };
};

/** Values of 8 bits. */
const EIGHT_BITS = 256;

/** Heights in steps, that a normal map shows as terraces. */
export const heightBands: SnagCheck = ({ doc, surface }) => {
  const stats = surface?.maps.get('height');
  const step = lastOf(doc, 'height-from-picture');
  if (!stats || !step || !lastOf(doc, 'normal-from-height')) return null;
  if ((step.version ?? 1) > 1) return null; // from then on steps are evened
  const { distinct } = stats.channels[0];
  if (distinct > EIGHT_BITS || distinct < 2) return null;
  return {
    id: 'height-bands',
    text: `Terraces in the normals: the heights have ${distinct} steps, those of an 8-bit picture.`,
    remedy: { label: 'Smooth the heights a little', apply: (d) => withParams(d, step, { smooth: 1.5 }) },
  };
};

/** What steps found doubtful about what they read. */
export const stepDoubts: SnagCheck = ({ doc, doubts }) => {
  const found = doubts?.find(({ stepId }) => doc.run.some((s) => s.id === stepId && s.on));
  const step = found && doc.run.find((s) => s.id === found.stepId);
  if (!found || !step) return null;
  const { text, remedy } = found.doubt;
  return {
    id: found.doubt.id,
    text,
    ...(remedy ? { remedy: { label: remedy.label, apply: (d) => withParams(d, step, remedy.params) } } : {}),
  };
};

/** A source whose file says that its values are colour, read as data. */
export const taggedData: SnagCheck = ({ doc, facts }) => {
  for (const step of doc.run) {
    if (!step.on || stepKind(step.kind).stretch !== 'maps') continue;
    for (const { id, as } of stepKind(step.kind).reads?.(step.params) ?? []) {
      const ref = doc.sources.find((s) => s.id === id);
      const notes = ref && facts.get(ref.sha256)?.notes;
      if (as !== 'data' || !notes?.some((note) => TAGGED.test(note))) continue;
      return {
        id: 'tagged-data',
        text: `Tagged as colour: ${ref!.fileName} is read as data here, with its values as they are; a program that goes by the tag would bend them.`,
      };
    }
  }
  return null;
};

const TAGGED = /colour profile|sRGB|ICC/i;

/** Share of a border that is more than a stalk that leaves the picture. */
const TOUCHED = 0.02;

/** What reaches both of two opposite borders is meant to go on there; clamped, filters repeat the outermost texels. */
export const clampedBorder: SnagCheck = ({ doc, surface }) => {
  if (!surface) return null;
  const { left, right, top, bottom } = surface.borders;
  const across = left > TOUCHED && right > TOUCHED && doc.levels.wrapAcross === 'clamp';
  const down = top > TOUCHED && bottom > TOUCHED && doc.levels.wrapDown === 'clamp';
  if (!across && !down) return null;
  const sides =
    across && down ? 'all four borders' : across ? 'the left and the right border' : 'the top and the bottom border';
  const wraps = {
    ...(across ? { wrapAcross: 'repeat' as const } : {}),
    ...(down ? { wrapDown: 'repeat' as const } : {}),
  };
  return {
    id: 'clamped-border',
    text: `Seam in the far levels where the card repeats: kept texels touch ${sides}, which are clamped.`,
    remedy: { label: 'Let it repeat there', apply: (d) => ({ ...d, levels: { ...d.levels, ...wraps } }) },
  };
};
