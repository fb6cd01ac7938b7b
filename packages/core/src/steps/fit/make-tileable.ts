import { SieveError } from '../../errors.ts';
import { bestOverlap, leastSeam, overlapOf, seamError } from '../../fit/seam.ts';
import { mapKind, type MapName } from '../../raster/maps.ts';
import { allocate16, type Mask, type Picture, type Raster, type Samples } from '../../raster/raster.ts';
import { frameOf, mapsOf, withChanges, type Frame, type RunState } from '../../raster/run-state.ts';
import type { Applied, StepEnv, StepKind } from '../step.ts';

export const TILE_WAYS = ['both ways', 'across', 'down'] as const;
export type TileWay = (typeof TILE_WAYS)[number];

export interface MakeTileableParams {
  ways: TileWay;
  /** Texels by which the ends are laid over each other at the most, and half of it at the least, as they fit best. */
  overlap: number;
  /** Texels over which one end goes over into the other along the seam. */
  blend: number;
}

export const makeTileable: StepKind<MakeTileableParams> = {
  stretch: 'fit',
  purpose: 'fit',
  label: 'Make tileable',
  hint: 'Lays opposite ends over each other and joins them along the seam that shows least, so that nets and cloth repeat.',
  defaults: { ways: 'both ways', overlap: 64, blend: 3 },
  ranges: {
    overlap: { min: 2, max: 2048, digits: 0, unit: 'texels', logarithmic: true },
    blend: { min: 0, max: 64, step: 1, digits: 0, unit: 'texels' },
  },
  pullsMask: false,
  apply(state, params, env) {
    let now: RunState = state;
    const told: string[] = [];
    for (const across of [true, false]) {
      if (params.ways === (across ? 'down' : 'across')) continue;
      const { applied, before, after } = joined(now, params, across, env);
      now = withChanges(now, applied);
      told.push(
        `${across ? 'left and right' : 'top and bottom'} differed by ${before.toFixed(1)}, along the seam by ${after.toFixed(1)}`,
      );
    }
    const { colour, mask, maps, frame } = now;
    const words = told.join('; ');
    return { colour, mask, maps, frame, notice: `${words[0].toUpperCase()}${words.slice(1)} (of 255).` };
  },
};

function joined(
  state: RunState,
  { overlap, blend }: MakeTileableParams,
  across: boolean,
  env: StepEnv,
): { applied: Applied; before: number; after: number } {
  const { colour, mask } = state;
  const frame = frameOf(state, env.scale);
  const side = across ? colour.width : colour.height;
  const most = Math.max(2, Math.round(overlap * env.scale));
  if (2 * most > side) {
    throw new SieveError(
      'out-of-range',
      'The ends would overlap by more than half of the texture.',
      'Choose a smaller overlap.',
    );
  }
  const wide = bestOverlap(colour, mask, most, across);
  const taken = Math.round(wide / env.scale);
  const over = overlapOf(colour, mask, wide, across);
  const seam = leastSeam(over);
  const soft = blend * env.scale;
  const out = new Map<MapName, Raster<Samples>>();
  for (const [name, raster] of mapsOf(state)) out.set(name, join(name, raster, wide, seam, soft, across, env));
  const size: Frame = across
    ? { ...frame, width: frame.width - taken, share: (frame.share * (frame.width - taken)) / frame.width }
    : { ...frame, height: frame.height - taken };
  const [newColour, newMask] = [out.get('colour') as Picture, out.get('mask') as Mask];
  out.delete('colour');
  out.delete('mask');
  return {
    applied: { colour: newColour, mask: newMask, maps: out, frame: size },
    before: seamError(overlapOf(colour, mask, 1, across), new Int32Array(seam.length)),
    after: seamError(over, seam),
  };
}

/** The far end's strip lies over the near one's: from the border to the seam the far end shows, then the near one. */
function join(
  name: MapName,
  { width, height, channels, data }: Raster<Samples>,
  wide: number,
  seam: Int32Array,
  soft: number,
  across: boolean,
  env: StepEnv,
): Raster<Samples> {
  const [w, h] = across ? [width - wide, height] : [width, height - wide];
  const count = channels * w * h;
  const out = data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const whole = mapKind(name).mips === 'one of them';
  const far = across ? w : h * width;
  env.bands(h, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      const row = channels * y * width;
      out.set(data.subarray(row, row + channels * w), channels * y * w);
      if (!across && y >= wide) continue;
      for (let x = 0, o = channels * y * w; x < (across ? wide : w); x++) {
        const i = channels * (y * width + x);
        const [at, along] = across ? [x, y] : [y, x];
        const past = at - seam[along] + 0.5;
        const near = soft > 0 && !whole ? Math.min(1, Math.max(0, 0.5 + past / soft)) : past > 0 ? 1 : 0;
        for (let c = 0; c < channels; c++) {
          const own = data[i + c];
          out[o++] = near === 1 ? own : own * near + data[i + channels * far + c] * (1 - near) + 0.5;
        }
      }
    }
  });
  return { width: w, height: h, channels, data: out };
}
