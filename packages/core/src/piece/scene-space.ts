/** Units of length that scene files are written in, as metres. */
export const SCENE_UNITS = { m: 1, cm: 0.01 } as const;
export type SceneUnit = keyof typeof SCENE_UNITS;
export const UP_AXES = ['Y', 'Z'] as const;
export type UpAxis = (typeof UP_AXES)[number];

/** How a target measures, and which way is up; of glTF both are fixed. */
export interface SceneSpace {
  unit: SceneUnit;
  up: UpAxis;
}
export const SCENE_SPACE: SceneSpace = { unit: 'm', up: 'Y' };
