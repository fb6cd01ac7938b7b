import { boxTurned, largestIn } from '../../fit/calipers.ts';
import { keptHull } from '../../fit/hull.ts';
import { cosine, sine } from '../../math/trigonometry.ts';
import type { MipFilter } from '../../sieve/mip-filters.ts';
import type { StepKind } from '../step.ts';
import { FIT_BETTER, FIT_VERSION, laid, sideOf, SUBJECT, type Sides } from './lay.ts';

export const TURN_HOWS = ['largest', 'given angle'] as const;
export type TurnHow = (typeof TURN_HOWS)[number];

export interface TurnToFitParams {
  /** The angle at which the subject is largest in the rectangle, or the one given. */
  how: TurnHow;
  /** Clockwise. */
  angle: number;
  /** Width of the rectangle over its height. */
  ratio: number;
  /** Dropped texels around the subject. */
  margin: number;
  /** Length of the longer side, texels; 0: the subject keeps its own. */
  size: number;
  sides: Sides;
  filter: MipFilter;
}

export const turnToFit: StepKind<TurnToFitParams> = {
  stretch: 'fit',
  purpose: 'fit',
  version: FIT_VERSION,
  better: FIT_BETTER,
  label: 'Turn to fit',
  hint: 'Turns the subject to the angle at which it is largest in a rectangle, and trims to that.',
  defaults: { how: 'largest', angle: 0, ratio: 1, margin: 8, size: 0, sides: 'any size', filter: 'Lanczos' },
  ranges: {
    angle: { min: -180, max: 180, step: 0.5, digits: 1, unit: 'degrees' },
    ratio: { min: 0.125, max: 8, logarithmic: true },
    margin: { min: 0, max: 1024, step: 1, digits: 0, unit: 'texels' },
    size: { min: 0, max: 16384, step: 1, digits: 0, unit: 'texels' },
  },
  pullsMask: false,
  sizeAtMost({ width, height }, { how, angle, ratio, margin, size, sides }) {
    // the largest is no smaller than upright, so that its rectangle is no larger
    const [c, s] = how === 'largest' ? [1, 0] : [Math.abs(cosine(angle)), Math.abs(sine(angle))];
    const inside = Math.max((width * c + height * s) / ratio, width * s + height * c);
    const times = size > 0 ? size / Math.max(inside, inside * ratio) : 1;
    const side = (length: number) => sideOf(Math.ceil(length * times) + 2 * margin, sides);
    return { width: side(inside * ratio), height: side(inside) };
  },
  apply(state, { how, angle, ratio, margin, size, sides, filter }, env) {
    const hull = keptHull(state.mask, SUBJECT).map(([x, y]) => [x / env.scale, y / env.scale] as const);
    if (hull.length < 3) return { notice: 'The mask keeps nothing to turn.' };
    const upright = boxTurned(hull, 0);
    const box = how === 'largest' ? largestIn(hull, ratio) : boxTurned(hull, angle);
    const height = Math.max(box.width / ratio, box.height);
    const before = Math.max(upright.width / ratio, upright.height);
    // margins are in texels of the result
    const tall = height + 2 * margin;
    const wide = height * ratio + 2 * margin;
    const longer = Math.max(wide, tall);
    const scale = size > 0 ? (longer - 2 * margin) / Math.max(1, size - 2 * margin) : 1;
    const width = sideOf((wide - 2 * margin) / scale + 2 * margin, sides);
    const down = sideOf((tall - 2 * margin) / scale + 2 * margin, sides);
    const [c, s] = [scale * cosine(box.angle), scale * sine(box.angle)];
    const [mx, my] = box.middle;
    const placing = {
      width,
      height: down,
      xx: c,
      xy: s,
      x0: mx - (c * width) / 2 - (s * down) / 2,
      yx: -s,
      yy: c,
      y0: my + (s * width) / 2 - (c * down) / 2,
    };
    const gain = Math.round(100 * ((before / height) * (before / height) - 1));
    const told = `Turned by ${box.angle.toFixed(1)}°: ${gain >= 0 ? '+' : '−'}${Math.abs(gain)} % texels on the subject in ${width} × ${down}.`;
    return { ...laid(state, placing, filter, env), notice: told };
  },
};
