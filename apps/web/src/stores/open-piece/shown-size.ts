import type { LevelSummary, MaskSummary, PieceDoc, SourceFacts } from '@lithe-sieve/core';
import { computed, shallowRef, watch, type Ref } from 'vue';
import type { MaskResult } from '../../workers/types';

export interface Size {
  width: number;
  height: number;
}

/** What is shown of an open piece. */
export interface Shown {
  piece: {
    readonly doc: PieceDoc | null;
    readonly sources: PieceDoc['sources'];
    readonly facts: ReadonlyMap<string, SourceFacts>;
  };
  mask: Readonly<Ref<MaskResult | null>>;
  maskIsFull: Readonly<Ref<boolean>>;
  /** Pictures that stand in until there is a mask. */
  first: Readonly<Ref<Size | null>>;
  poster: Readonly<Ref<Size | null>>;
  /** Whether it is the whole run's. */
  isWhole: Readonly<Ref<boolean>>;
}

/** Size, card and mip levels of what is shown. */
export function useShownSize({ piece, mask, maskIsFull, first, poster, isWhole }: Shown) {
  /** Size of what is shown, at full size: as the fit leaves it, or that of the colour picture. */
  const size = computed((before?: Size | null) => {
    const source = piece.sources[0];
    const shown = mask.value?.frame ?? first.value ?? poster.value ?? (source && piece.facts.get(source.sha256));
    if (!shown) return null;
    const { width, height } = shown;
    return before?.width === width && before.height === height ? before : { width, height };
  });
  /** Size of the piece itself, whichever step is looked at; null where it is not known yet. */
  const wholeSize = shallowRef<Size | null>(null);
  watch([mask, isWhole, first], ([made, whole]) => {
    const known = made && whole ? made.frame : made ? null : first.value;
    if (known) wholeSize.value = { width: known.width, height: known.height };
  });
  /** Width of the card that what is shown lies on, metres. */
  const cardWidth = computed(() => (piece.doc?.cardWidth ?? 1) * (mask.value?.frame.share ?? 1));
  /** Summaries of all mip levels; while at view size, its largest stands in for the ones above. */
  const levels = computed<LevelSummary[]>(() => {
    const summary = mask.value?.summary;
    if (!summary || !size.value) return [];
    return maskIsFull.value ? summary.levels : withMissingLevels(summary, size.value);
  });
  return { size, wholeSize, cardWidth, levels };
}

function withMissingLevels(summary: MaskSummary, size: Size): LevelSummary[] {
  const [top] = summary.levels;
  const missing: LevelSummary[] = [];
  for (let { width, height } = size; width > top.width; width >>= 1, height = Math.max(1, height >> 1)) {
    missing.push({ ...top, width, height });
  }
  return [...missing, ...summary.levels];
}
