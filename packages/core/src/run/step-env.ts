import { SieveError } from '../errors.ts';
import { PIECE_DEFAULTS, type StepEntry } from '../piece/piece-doc.ts';
import type { Allocate, Picture } from '../raster/raster.ts';
import { frameOf, type RunState } from '../raster/run-state.ts';
import type { StepEnv } from '../steps/step.ts';
import { strokesOf } from '../strokes/draw-stroke.ts';
import { StrokePainter } from '../strokes/painter.ts';
import type { Stroke } from '../strokes/stroke.ts';
import type { RunHost, StepResult } from './run.ts';

const NO_STROKES: ReadonlyMap<string, Stroke> = new Map();
const BAND_TEXELS = 1 << 20;

/** Where a step stands: what comes into it, and what was before. */
export interface StepPlace {
  step: StepEntry;
  state: RunState;
  /** Key of the state. */
  inputKey: string;
  before: readonly StepResult[];
}

/** What a step may ask, answered by the host of the run. */
export function stepEnv({ step, state, inputKey, before }: StepPlace, host: RunHost, allocate: Allocate): StepEnv {
  const tip = (sha256: string) => {
    const found = host.tip?.(sha256);
    if (found) return found;
    throw new SieveError('missing-source', 'The picture of a brush tip is missing.', 'Reload the page.');
  };
  const env: StepEnv = {
    allocate,
    scale: host.scale ?? 1,
    draft: host.draftsFit ?? false,
    version: step.version ?? 1,
    source(id) {
      const found = host.sources.find((s) => s.id === id);
      if (found) return found.picture;
      throw new SieveError(
        'missing-source',
        'The picture this step reads is no longer in the piece.',
        'Choose another source in this step.',
      );
    },
    asData: (picture: Picture) => host.sources.find((s) => s.picture === picture)?.data ?? picture,
    deepSource: (id) => host.sources.find((s) => s.id === id)?.deep ?? null,
    texelMm: (1000 * (host.cardWidth ?? PIECE_DEFAULTS.cardWidth) * frameOf(state).share) / state.colour.width,
    placeOf: (id) => host.sources.find((s) => s.id === id)?.place ?? null,
    maskAfter(stepId) {
      const found = before.find((s) => s.stepId === stepId);
      if (found) return found.mask;
      throw new SieveError(
        'missing-step',
        'The step to combine with does not come before this one.',
        'Choose another step here, or move this one after it.',
      );
    },
    paintStrokes(ids, onto) {
      const { width, height } = state.mask;
      const from = onto ? { ...state, mask: onto } : state;
      const painter = host.painterOf?.(step.id, from) ?? new StrokePainter(width, height);
      return painter.paint(strokesOf(ids, host.strokes ?? NO_STROKES), from, inputKey, { ...env, tip });
    },
    checkpoint: (share) => host.checkpoint?.(before.length, share),
    bands(height, work) {
      const rows = Math.max(1, Math.floor(BAND_TEXELS / state.colour.width)) & ~1 || 1;
      for (let y = 0; y < height; y += rows) {
        host.checkpoint?.(before.length, y / height);
        work(y, Math.min(height, y + rows));
      }
    },
  };
  return env;
}
