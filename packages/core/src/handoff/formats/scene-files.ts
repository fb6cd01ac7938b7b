import type { Material, PieceDoc } from '../../piece/piece-doc.ts';
import { mapKind, type MapName } from '../../raster/maps.ts';
import { sceneOf, turned, type CardScene, type PictureUse, type ScenePart } from '../../scene/scene.ts';
import type { SceneSays } from '../../scene/says.ts';
import type { SurfaceMesh } from '../../card/surface-mesh.ts';
import { checkMesh } from '../check-mesh.ts';
import type { Add, CheckTools, Packed } from '../file-format.ts';
import type { PicturePlan } from '../file-plan.ts';

/** A piece as scene files say it, with the names of the pictures beside. */
export function sceneFrom({ doc, pictures, view }: Packed): CardScene {
  const names = new Map<PictureUse, string>();
  let back: string | null = null;
  for (const { plan, name } of pictures) {
    if (plan.holds === 'backColour') back = name;
    else names.set(useOf(plan.holds), name);
  }
  return sceneOf(view(), names, back, doc.handOff.space);
}

function useOf(holds: PicturePlan['holds']): PictureUse {
  if (holds === 'colour' || holds === 'colour and mask') return 'base';
  return holds === 'occlusion, roughness, metalness' ? 'surface' : (holds as PictureUse);
}

/** How a scene says a mask that drops nothing: no cutoff is below 0, so that it is opaque where 0 means a blend. */
export const modeWhereZeroBlends = ({ mode, cutoff }: Material) => (mode === 'mask' && cutoff === 0 ? 'opaque' : mode);

/** What a scene says against the material, and that every file that it names lies beside it. */
export function checkSays(
  says: SceneSays,
  wanted: Pick<Material, 'mode' | 'cutoff' | 'doubleSided' | 'opacity'>,
  has: (file: string) => boolean,
  add: Add,
): void {
  add('alpha mode', says.mode === wanted.mode, says.mode);
  if (wanted.mode === 'mask')
    add('cutoff', Math.fround(says.cutoff) === Math.fround(wanted.cutoff), String(says.cutoff));
  if (says.doubleSided !== null) {
    add('double-sided', says.doubleSided === wanted.doubleSided, says.doubleSided ? 'yes' : 'no');
  }
  if (wanted.mode !== 'opaque') {
    add('opacity factor', Math.fround(says.opacity) === Math.fround(wanted.opacity), String(says.opacity));
  }
  const files = [...new Set(says.files)];
  const missing = files.filter((file) => !has(file));
  add('pictures', missing.length === 0, missing.length ? `not beside it: ${missing.join(', ')}` : files.join(', '));
}

/** The parts of a scene whose v was turned over on its way. @param slack - How far numbers may be off. */
export function checkParts(found: readonly SurfaceMesh[], wanted: readonly ScenePart[], add: Add, slack = 0): void {
  if (found.length !== wanted.length) return add('parts', false, `${found.length} instead of ${wanted.length}`);
  for (const [i, { name, mesh }] of wanted.entries()) {
    const ofPart: Add = (what, ok, said) => add(wanted.length > 1 ? `${name}: ${what}` : what, ok, said);
    // twice turned is not always the same in 32 bits
    const uvs = mesh.uvs.map((v, k) => (k % 2 ? turned(turned(v)) : v));
    checkMesh({ mesh: found[i], tangents: null }, { ...mesh, uvs }, false, ofPart, slack);
  }
}

/** Maps that a scene file has no place for, as people call them. @param places - Those that it has one for. */
export function leftOutOf(
  places: readonly MapName[],
  maps: Iterable<MapName>,
  { sides, material, drawn }: Pick<PieceDoc, 'sides' | 'material' | 'drawn'>,
  more: readonly string[] = [],
): string[] {
  const placed = new Set<MapName>(['colour', 'mask', ...places]);
  if (!sides) placed.delete('backColour');
  const words = [...maps].filter((map) => !placed.has(map)).map((map) => mapKind(map).label);
  const clip = material.mode === 'mask' && drawn.by !== 'hard' ? ['a clip that is not hard'] : [];
  return [...words, ...clip, ...more];
}

/** Whether a file lies beside one that is read back. */
export const isBeside = (given: CheckTools) => (file: string) => given.beside(file) !== null;
