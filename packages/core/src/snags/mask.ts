import { makeStep, type PieceDoc, type StepEntry } from '../piece/piece-doc.ts';
import { hasPlainBorder, type SourceFacts } from '../piece/source-facts.ts';
import { dropBackdrop } from '../piece/starting-run.ts';
import { coverageAt } from '../sieve/histogram.ts';
import { otsuThreshold } from '../sieve/otsu.ts';
import { thresholdByte } from '../math/threshold.ts';
import { stepKind } from '../steps/registry.ts';
import type { Snag, SnagCheck, SnagContext } from './snag.ts';

export const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

export function keptByte({ doc }: SnagContext): number {
  return thresholdByte(doc.material.cutoff, doc.material.opacity);
}

/** A mask that is cut by hand is one too. */
export function pulls(doc: PieceDoc): boolean {
  const byHand = (s: StepEntry) => s.kind === 'strokes' && s.params.strokes.length > 0;
  return doc.run.some((s) => s.on && (stepKind(s.kind).pullsMask || byHand(s)));
}

/** Holes in the mask, but the renderer ignores alpha. */
export const opaqueMode: SnagCheck = (context) => {
  const { doc, counts } = context;
  if (doc.material.mode !== 'opaque') return null;
  const dropped = 1 - coverageAt(counts, thresholdByte(0.5));
  if (dropped < 0.0005) return null;
  return {
    id: 'opaque-mode',
    text: `Nothing is clipped: the mask drops ${percent(dropped)}, but the mode is opaque.`,
    remedy: {
      label: 'Set the mode to mask',
      apply: (d) => ({ ...d, material: { ...d.material, mode: 'mask' } }),
    },
  };
};

/** Nothing in the run makes a mask. */
export const noMask: SnagCheck = ({ doc, facts }) => {
  const [first] = doc.sources;
  const source = first && facts.get(first.sha256);
  if (!source || pulls(doc)) return null;
  if (source.alpha === 'present') {
    return {
      id: 'no-mask',
      text: 'No mask: the picture has alpha, but no step of the run takes it.',
      remedy: {
        label: 'Take the alpha as the mask',
        apply: (d, makeId) => withPull(d, makeStep(makeId(), 'from-channel', { channel: 'alpha' })),
      },
    };
  }
  return {
    id: 'no-mask',
    text: `No mask: ${ALPHA_WORDS[source.alpha]}, and no step makes one.`,
    remedy: pullRemedy(source),
  };
};

const ALPHA_WORDS = {
  none: 'the picture has no alpha',
  opaque: 'the alpha of the picture is all opaque',
  transparent: 'the alpha of the picture is all zero',
} as const;

function pullRemedy(facts: SourceFacts): NonNullable<Snag['remedy']> {
  if (hasPlainBorder(facts)) {
    return {
      label: 'Drop the backdrop’s colour',
      apply: (d, makeId) => withPull(d, makeStep(makeId(), 'from-colour', dropBackdrop(facts))),
    };
  }
  return {
    label: 'Take luminance as the mask',
    apply: (d, makeId) => withPull(d, makeStep(makeId(), 'from-channel', { channel: 'luminance' })),
  };
}

/** A pull replaces what was before it, so it goes to the front. */
function withPull(doc: PieceDoc, step: StepEntry): PieceDoc {
  return { ...doc, run: [step, ...doc.run] };
}

/** The border is kept and the middle dropped. */
export const inverted: SnagCheck = (context) => {
  const { border, middle, doc } = context;
  if (!pulls(doc)) return null;
  const byte = keptByte(context);
  const borderKept = coverageAt(border, byte);
  const middleKept = coverageAt(middle, byte);
  if (borderKept < 0.85 || borderKept - middleKept < 0.2) return null;
  return {
    id: 'inverted',
    text: `Inverted mask, probably: it keeps ${percent(borderKept)} of the border and ${percent(middleKept)} of the middle.`,
    remedy: { label: 'Invert the mask', apply: toggleInvert },
  };
};

/** Takes away the inverting step behind the one that makes the mask, or adds one there: what grows must not shrink. */
function toggleInvert(doc: PieceDoc, makeId: () => string): PieceDoc {
  const at = doc.run.findLastIndex((s) => s.on && stepKind(s.kind).pullsMask) + 1;
  const next = doc.run[at];
  if (next?.kind === 'invert' && next.on) return { ...doc, run: doc.run.filter((s) => s !== next) };
  return { ...doc, run: doc.run.toSpliced(at, 0, makeStep(makeId(), 'invert')) };
}

/** A share of texels too small to be a subject or a hole on purpose. */
const NEARLY_NONE = 0.0005;

/** The cutoff lets (nearly) everything or nothing through. */
export const allOrNothing: SnagCheck = (context) => {
  const { counts, doc } = context;
  if (!pulls(doc) || doc.material.mode === 'opaque') return null;
  const kept = coverageAt(counts, keptByte(context));
  if (kept > NEARLY_NONE && kept < 1 - NEARLY_NONE) return null;
  const id = kept < 0.5 ? 'all-dropped' : 'all-kept';
  const all = kept < 0.5 ? 'Nothing' : 'Everything';
  const text = `${kept === 0 || kept === 1 ? all : `Nearly ${all.toLowerCase()}`} is kept at cutoff ${doc.material.cutoff}.`;
  const split = otsuThreshold(counts);
  if (split === null) return { id, text: `${text} The mask holds one value only.` };
  const cutoff = Math.round(((split + 0.5) / 255) * doc.material.opacity * 1000) / 1000;
  return {
    id,
    text,
    remedy: {
      label: `Set the cutoff to ${cutoff}`,
      apply: (d) => ({ ...d, material: { ...d.material, cutoff } }),
    },
  };
};
