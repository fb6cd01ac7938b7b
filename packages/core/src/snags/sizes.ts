import type { SourceRef, StepEntry } from '../piece/piece-doc.ts';
import type { SourceFacts } from '../piece/source-facts.ts';
import { stepKind } from '../steps/registry.ts';
import type { Snag, SnagCheck, SnagContext } from './snag.ts';

/** A source that a step reads, of another size than the colour picture. */
interface Odd {
  step: StepEntry;
  ref: SourceRef;
  otherSize: 'refused' | 'scaled';
  found: SourceFacts;
  colour: SourceFacts;
}

function oddOnes({ doc, facts }: SnagContext): Odd[] {
  const colour = facts.get(doc.sources[0]?.sha256);
  if (!colour) return [];
  return doc.run.flatMap((step) =>
    (step.on ? (stepKind(step.kind).reads?.(step.params) ?? []) : []).flatMap(({ id, otherSize }): Odd[] => {
      const ref = doc.sources.find((s) => s.id === id);
      const found = ref && facts.get(ref.sha256);
      if (!ref || !found || ref.place || (otherSize !== 'refused' && otherSize !== 'scaled')) return [];
      const same = found.width === colour.width && found.height === colour.height;
      return same ? [] : [{ step, ref, otherSize, found, colour }];
    }),
  );
}

const sideWords = ({ ref, found, colour }: Odd) =>
  `${ref.fileName} is ${found.width} × ${found.height}, the colour picture ${colour.width} × ${colour.height}`;

/** A step reads a source of another size than the colour picture, and refuses it. */
export const sizesDiffer: SnagCheck = (context) => {
  const odd = oddOnes(context).find(({ otherSize }) => otherSize === 'refused');
  if (!odd) return null;
  const remedy = 'fit' in odd.step.params ? scaleRemedy(odd.step.id) : undefined;
  return { id: 'sizes-differ', text: `Sizes differ: ${sideWords(odd)}.`, ...(remedy ? { remedy } : {}) };
};

/** More than a texel of rounding in a picture of a hundred. */
const ANOTHER_SHAPE = 0.015;

/** A step scales a source of another shape, and stretches what it shows. */
export const shapesDiffer: SnagCheck = (context) => {
  const odd = oddOnes(context).find(
    ({ step, otherSize, found, colour }) =>
      otherSize === 'scaled' &&
      'fit' in step.params && // what is only matched to may have any shape
      Math.abs((found.width * colour.height) / (found.height * colour.width) - 1) > ANOTHER_SHAPE,
  );
  if (!odd) return null;
  const text = `Stretched: ${sideWords(odd)}, a different shape. Crop it to the same shape, then replace the file.`;
  return { id: 'shapes-differ', text };
};

function scaleRemedy(stepId: string): NonNullable<Snag['remedy']> {
  const scaled = (s: StepEntry) =>
    s.id === stepId && 'fit' in s.params ? ({ ...s, params: { ...s.params, fit: 'scale' } } as StepEntry) : s;
  return { label: 'Scale it to fit', apply: (d) => ({ ...d, run: d.run.map(scaled) }) };
}
