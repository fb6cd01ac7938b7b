import { SieveError } from '../../errors.ts';
import { allocate16, type Raster, type Samples } from '../../raster/raster.ts';
import { resize } from '../../raster/resize.ts';
import { reorient } from '../../relief/blend-normals.ts';
import { curlOf } from '../../relief/integrability.ts';
import { writeNormal } from '../../relief/normals.ts';
import { strayLength } from '../../relief/stray-length.ts';
import type { Doubt, StepEnv, StepKind } from '../step.ts';

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
  label: 'Normal: picture',
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
    const doubt = doubtOf(source, params.green);
    return { maps: new Map([['normal', { width, height, channels: 3, data: out }]]), ...(doubt ? { doubt } : {}) };
  },
};

function doubtOf(source: Raster<Samples>, green: GreenWay): Doubt | null {
  const off = strayLength(source);
  if (off > STRAY) {
    return {
      id: 'stray-normals',
      text: `The directions of the normal map are ${(100 * off).toFixed(0)} % off length 1, so that it may be none, or was saved as colour. They were brought to length 1.`,
    };
  }
  const curl = curlOf(source);
  const [own, other] = green === 'OpenGL' ? [curl?.up, curl?.down] : [curl?.down, curl?.up];
  if (own === undefined || other === undefined || own < other * DOUBTFUL) return null;
  const turned = green === 'OpenGL' ? 'DirectX' : 'OpenGL';
  return {
    id: 'green-doubtful',
    text: `Read as ${green}, the normal map fits no surface (curl ${(100 * own).toFixed(0)} % of its slopes); read as ${turned} it does (${(100 * other).toFixed(0)} %).`,
    remedy: { label: `Read it as ${turned}`, params: { green: turned } },
  };
}

/** How many times the curl of the other way makes the chosen one doubtful. */
const DOUBTFUL = 1.4;

/** Mean difference from length 1 beyond which a picture is hardly a normal map. */
const STRAY = 0.08;

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
