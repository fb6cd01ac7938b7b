import { SieveError } from '../../errors.ts';
import { allocate16 } from '../../raster/raster.ts';
import { photometricStereo, type LitPicture } from '../../relief/photometric.ts';
import type { StepKind } from '../step.ts';

/** A source that was taken under one light. */
export interface Light {
  sourceId: string;
  /** 0 to the right, 90 above, 180 to the left. */
  azimuth: number;
  /** Above the plane of the subject; 90 is from the camera. */
  elevation: number;
}

export const LIGHT_RANGES = {
  azimuth: { min: -180, max: 360, step: 1, digits: 0, unit: 'degrees' },
  elevation: { min: 5, max: 90, step: 1, digits: 0, unit: 'degrees' },
} as const;
export const LIGHTS = { least: 3, most: 8 } as const;

export interface NormalFromLightsParams {
  lights: Light[];
  /** What becomes of the colour: it stays, or the albedo takes its place. */
  colour: 'as it is' | 'albedo';
}

export const normalFromLights: StepKind<NormalFromLightsParams> = {
  stretch: 'maps',
  purpose: 'normal',
  needs: 'a second source',
  label: 'Normal: lights',
  hint: 'From three to eight photographs of the same subject, each lit from another side: its normals, and its colour without shading.',
  defaults: { lights: [], colour: 'albedo' },
  ranges: {},
  makes: 'normal',
  pullsMask: false,
  reads: ({ lights }) => lights.map(({ sourceId }) => ({ id: sourceId, as: 'colour', otherSize: 'refused' })),
  apply({ colour }, { lights, colour: wanted }, env) {
    if (lights.length < LIGHTS.least) {
      const missing = LIGHTS.least - lights.length;
      return {
        notice: `Add ${missing} more ${missing === 1 ? 'photograph' : 'photographs'}: three lights are the least.`,
      };
    }
    const { width, height } = colour;
    const lit = lights.map(({ sourceId, azimuth, elevation }): LitPicture => {
      const picture = env.source(sourceId);
      if (picture.width === width && picture.height === height) return { picture, azimuth, elevation };
      throw new SieveError(
        'size-mismatch',
        'The photographs differ in size.',
        'Take all of them with the same camera on a stand, so that they line up texel for texel.',
      );
    });
    const out = { normals: allocate16(3 * width * height, env.allocate), albedo: env.allocate(4 * width * height) };
    const { normals, albedo } = photometricStereo(lit, env, out);
    const maps = new Map([['normal' as const, normals]]);
    return wanted === 'albedo' ? { colour: albedo, maps } : { maps };
  },
};
