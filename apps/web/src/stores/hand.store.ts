import {
  BRUSH_DEFAULTS,
  BRUSH_RANGES,
  isHandStep,
  type Brush,
  type Mirror,
  type RegionStroke,
  type TipName,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { local } from '../document/local';
import { computed, reactive, ref, watch } from 'vue';
import { useBenchStore } from './bench.store';
import { usePiece } from './open-piece/open-piece';

/** What a press on a view does while a step of strokes is selected. */
export const HAND_TOOLS = ['brush', 'line', 'outline', 'region'] as const;
export type HandTool = (typeof HAND_TOOLS)[number];
/** Where the texels around the pointer are shown large. */
export const LOUPES = ['beside', 'corner', 'none'] as const;

const STORED = 'hand';
/** Teeth and prints show where dabs do not lie too close. */
const HANDY_SPACING: Record<TipName, number> = { round: 0.12, ragged: 0.3, 'whole texels': 0.12, piece: 0.8 };

/** How strokes are drawn. Session state, which the browser keeps. */
export const useHandStore = defineStore('hand', () => {
  const bench = useBenchStore();
  const piece = usePiece();
  const before = readStored();

  const tool = ref<HandTool>(before.tool ?? 'brush');
  const effect = ref<'cut' | 'restore'>('cut');
  /** The other one, while its key is held. */
  const swapped = ref(false);
  const brush = reactive<Brush>({ ...BRUSH_DEFAULTS, ...before.brush });
  /** CSS pixels that the pointer runs ahead of the tip. */
  const steadying = ref(before.steadying ?? 0);
  const loupe = ref<(typeof LOUPES)[number]>(before.loupe ?? 'beside');
  const region = reactive<Pick<RegionStroke, 'of' | 'tolerance' | 'gaps'>>({ of: 'picture', tolerance: 0.08, gaps: 0 });
  const mirror = ref<Mirror | null>(null);
  /** While its key is held a drag changes the diameter, or moves the mirror's line. */
  const dragging = ref<'nothing' | 'diameter' | 'mirror'>('nothing');
  /** What is looked at instead while a key is held: the mask alone, or the state without the strokes. */
  const peek = ref<'nothing' | 'mask' | 'before'>('nothing');
  /** Why the last stroke was not drawn. */
  const trouble = ref('');

  watch(
    () => brush.tip,
    (tip) => (brush.spacing = HANDY_SPACING[tip]),
  );
  watch([tool, brush, steadying, loupe], () => {
    const stored: Stored = { tool: tool.value, brush, steadying: steadying.value, loupe: loupe.value };
    local.write(STORED, JSON.stringify(stored));
  });

  const isBrush = computed(() => tool.value === 'brush' || tool.value === 'line');
  const now = computed(() => (swapped.value === (effect.value === 'cut') ? 'restore' : 'cut'));
  /** The selected step, where it takes strokes. */
  const step = computed(() => {
    const { selection } = bench;
    const found = selection.kind === 'step' ? piece.run.find((s) => s.id === selection.id) : undefined;
    return isHandStep(found) && found.on ? found : null;
  });
  const { min, max } = BRUSH_RANGES.diameter;
  function resize(wanted: number): void {
    brush.diameter = Math.min(max, Math.max(min, Math.round(wanted * 10) / 10));
  }
  const changeOver = () => (effect.value = effect.value === 'cut' ? 'restore' : 'cut');

  return {
    tool,
    isBrush,
    loupe,
    effect,
    swapped,
    now,
    brush,
    steadying,
    region,
    mirror,
    dragging,
    peek,
    resize,
    trouble,
    step,
    changeOver,
  };
});

interface Stored {
  tool?: HandTool;
  brush?: Partial<Brush>;
  steadying?: number;
  loupe?: (typeof LOUPES)[number];
}

function readStored(): Stored {
  try {
    return JSON.parse(local.read(STORED) ?? '{}') as Stored;
  } catch {
    return {};
  }
}
