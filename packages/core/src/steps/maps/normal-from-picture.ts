import { SieveError } from '../../errors.ts';
import { allocate16, type Raster, type Samples } from '../../raster/raster.ts';
import { resize } from '../../raster/resize.ts';
import { reorient } from '../../relief/blend-normals.ts';
import { writeNormal } from '../../relief/normals.ts';
import type { StepEnv, StepKind } from '../step.ts';

/** The two conventions by the standards that have them: green up, or green down. */
export const GREEN_WAYS = ['OpenGL', 'DirectX'] as const;
export type GreenWay = (typeof GREEN_WAYS)[number];
export const NORMAL_BLENDS = ['replace', 'lay over'] as const;
export type NormalBlend = (typeof NORMAL_BLENDS)[number];

export interface NormalFromPictureParams {
  sourceId: string;
  fit: 'refuse' | 'scale';
  /** Which way green points in the picture; the map is always +Y up. */
  green: GreenWay;
  blend: NormalBlend;
  /** 0 leaves the normals as they are. */
  weight: number;
}

export const normalFromPicture: StepKind<NormalFromPictureParams> = {
  stretch: 'maps',
  purpose: 'normal',
  needs: 'a second source',
  label: 'Normal from picture',
  hint: 'Takes a normal map that was made elsewhere, or lays it over the normals here as detail.',
  defaults: { sourceId: '', fit: 'refuse', green: 'OpenGL', blend: 'lay over', weight: 1 },
  ranges: { weight: { min: 0, max: 2 } },
  makes: 'normal',
  pullsMask: false,
  reads: ({ sourceId, fit }) =>
    sourceId ? [{ id: sourceId, as: 'data', otherSize: fit === 'scale' ? 'scaled' : 'refused' }] : [],
  apply(state, params, env) {
    if (!params.sourceId) return { notice: 'Choose the picture that holds the normals.' };
    const { width, height } = state.colour;
    const source = normalSource(params, width, height, env);
    const before = params.blend === 'lay over' ? state.maps.get('normal') : undefined;
    const out = allocate16(3 * width * height, env.allocate);
    env.bands(height, (y0, y1) => join(source, before?.data, params, out, y0 * width, y1 * width));
    const off = strayLength(source);
    return {
      maps: new Map([['normal', { width, height, channels: 3, data: out }]]),
      ...(off > STRAY
        ? {
            notice: `The picture’s directions are ${(100 * off).toFixed(0)} % off length 1: is it a normal map? They were brought to it.`,
          }
        : {}),
    };
  },
};

/** Mean difference from length 1 beyond which a picture is hardly a normal map. */
export const STRAY = 0.08;

function normalSource({ sourceId, fit }: NormalFromPictureParams, width: number, height: number, env: StepEnv) {
  const deep = env.deepSource(sourceId);
  const source: Raster<Samples> = deep && deep.channels >= 3 ? deep : env.asData(env.source(sourceId));
  if (source.width === width && source.height === height) return source;
  if (fit === 'scale') return resize(env.asData(env.source(sourceId)), width, height, env.allocate);
  throw new SieveError(
    'size-mismatch',
    'The normal map and the colour picture differ in size.',
    'Choose “scale to fit” in this step, or bring in a normal map of the same size.',
  );
}

/** How far the directions of a picture are from length 1, on average over texels of it. */
export function strayLength({ width, height, channels, data }: Raster<Samples>): number {
  const full = data instanceof Uint8Array ? 255 : 65535;
  const step = Math.max(1, Math.floor((width * height) / 20000));
  let sum = 0;
  let count = 0;
  for (let i = 0; i < width * height; i += step, count++) {
    const at = (c: number) => (2 * data[channels * i + c]) / full - 1;
    const [x, y, z] = [at(0), at(1), at(2)];
    sum += Math.abs(Math.sqrt(x * x + y * y + z * z) - 1);
  }
  return count > 0 ? sum / count : 0;
}

function join(
  { channels, data }: Raster<Samples>,
  before: Samples | undefined,
  { green, weight }: NormalFromPictureParams,
  out: Uint16Array,
  from: number,
  to: number,
): void {
  const half = data instanceof Uint8Array ? 127.5 : 32767.5;
  // 8 bits have no exact zero: 127 and 128 both mean it
  const middle = data instanceof Uint8Array ? 0.5 / 127.5 : 0;
  const own = new Float64Array(3);
  const more = new Float64Array(3);
  const joined = new Float64Array(3);
  const up = green === 'DirectX' ? -1 : 1;
  for (let i = from; i < to; i++) {
    for (let c = 0; c < 3; c++) {
      const v = data[channels * i + c] / half - 1;
      more[c] = c < 2 && v <= middle && v >= -middle ? 0 : v;
    }
    more[0] *= weight;
    more[1] *= weight * up;
    if (!before) {
      writeNormal(out, 3 * i, more[0], more[1], more[2]);
      continue;
    }
    const length = Math.sqrt(more[0] * more[0] + more[1] * more[1] + more[2] * more[2]) || 1;
    for (let c = 0; c < 3; c++) {
      more[c] /= length;
      own[c] = before[3 * i + c] / 32767.5 - 1;
    }
    reorient(own, more, joined);
    writeNormal(out, 3 * i, joined[0], joined[1], joined[2]);
  }
}
