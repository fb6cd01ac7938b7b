import { subMesh, type SurfaceMesh } from '../card/surface-mesh.ts';
import { CARD_ROUGHNESS, PLAIN_GREY, backName } from '../material/gltf-material.ts';
import type { PieceView } from '../material/piece-view.ts';
import type { SlotName } from '../material/slots.ts';
import type { AlphaMode } from '../piece/piece-doc.ts';
import { SCENE_SPACE, SCENE_UNITS, type SceneSpace } from '../piece/scene-space.ts';
import type { Wrap } from '../sieve/mip-filters.ts';

/** Pictures that a scene file names beside it; one of them may hold several slots in its channels. */
export type PictureUse = 'base' | 'mask' | 'surface' | Exclude<SlotName, never>;
export type PictureNames = ReadonlyMap<PictureUse, string>;

/** A material as every kind of scene file says it. */
export interface SceneMaterial {
  name: string;
  mode: AlphaMode;
  cutoff: number;
  doubleSided: boolean;
  /** Multiplies alpha, 0–1. */
  opacity: number;
  /** Multiplies the picture's colour; of a plain material the colour itself. Linear. */
  tint: readonly [number, number, number];
  roughness: number;
  /** Multiplies the picture of emission. */
  emission: number;
  /** Empty: it shows no picture. */
  pictures: PictureNames;
  /** Slots that the run fills: of the channels of a picture that holds several, those alone are read. */
  slots: ReadonlySet<SlotName>;
}

/** Triangles of one material. */
export interface ScenePart {
  name: string;
  mesh: SurfaceMesh;
  material: SceneMaterial;
}

/** A card with its materials, v down: in the unit of its space; with Y up its front is to +Z, with Z up to −Y. */
export interface CardScene {
  name: string;
  parts: readonly ScenePart[];
  wrap: { across: Wrap; down: Wrap };
  space: SceneSpace;
}

/** @param pictures - By what each holds; `back`: colour of a back of its own. */
export function sceneOf(
  view: PieceView,
  pictures: PictureNames,
  back: string | null,
  space: SceneSpace = SCENE_SPACE,
): CardScene {
  const { material, surface, slots } = view;
  const { mode, cutoff, doubleSided, opacity, emission = 1 } = material;
  const front: SceneMaterial = {
    ...{ name: view.names.material, mode, cutoff, doubleSided, opacity, emission, pictures },
    tint: [1, 1, 1],
    roughness: slots.has('roughness') ? 1 : CARD_ROUGHNESS,
    slots: new Set(slots.keys()),
  };
  const { rootTip, ...bare } = surface.mesh;
  const mesh: SurfaceMesh = view.sway ? { ...bare, rootTip } : bare;
  const { indices, backFrom = indices.length } = mesh;
  const parts: ScenePart[] = view.back
    ? [
        { name: `${view.names.mesh} front`, mesh: subMesh(mesh, [{ from: 0, to: backFrom }]), material: front },
        {
          name: `${view.names.mesh} back`,
          mesh: subMesh(mesh, [{ from: backFrom, to: indices.length }]),
          material: {
            ...front,
            name: backName(front.name),
            tint: view.back.tint,
            pictures: back ? new Map([...pictures, ['base', back]]) : pictures,
          },
        },
      ]
    : [{ name: view.names.mesh, mesh, material: front }];
  const plain = surface.plain.map((part): ScenePart => ({ ...part, material: plainMaterial(part.name) }));
  const placed = [...parts, ...plain].map((part) => ({ ...part, mesh: inSpace(part.mesh, space) }));
  return { name: view.name, parts: placed, wrap: view.wrap, space };
}

function inSpace(mesh: SurfaceMesh, { unit, up }: SceneSpace): SurfaceMesh {
  const scale = 1 / SCENE_UNITS[unit];
  if (scale === 1 && up === 'Y') return mesh;
  const turn = (values: Float32Array, by: number) =>
    values.map((v, i) => {
      if (up === 'Y' || i % 3 === 0) return v * by;
      return i % 3 === 1 ? -values[i + 1] * by : values[i - 1] * by; // y is −z, z is y
    });
  return { ...mesh, positions: turn(mesh.positions, scale), normals: turn(mesh.normals, 1) };
}

function plainMaterial(name: string): SceneMaterial {
  return {
    ...{ name, mode: 'opaque', cutoff: 0.5, doubleSided: true, opacity: 1, emission: 1, roughness: CARD_ROUGHNESS },
    tint: [PLAIN_GREY, PLAIN_GREY, PLAIN_GREY],
    pictures: new Map(),
    slots: new Set(),
  };
}

/** A name that every scene format takes for a node: letters, digits and _, none twice among `taken`, which it joins. */
export function nodeName(name: string, taken: Set<string>): string {
  const plain = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '');
  const stem = /^[A-Za-z]/.test(plain) ? plain : `card_${plain}`.replace(/_$/, '');
  let own = stem;
  for (let n = 2; taken.has(own.toLowerCase()); n++) own = `${stem}_${n}`;
  taken.add(own.toLowerCase());
  return own;
}

/** The fewest digits that come back as the same number of 32 bits: nine always do (IEEE 754-2019, 5.12.2). */
export function digits(value: number): string {
  const float = Math.fround(value);
  for (const precision of [6, 7, 8]) {
    const short = Number(float.toPrecision(precision));
    if (Math.fround(short) === float) return String(short);
  }
  return String(Number(float.toPrecision(9)));
}

/** V of formats whose pictures begin at the bottom; it is its own way back as nearly as 32 bits have it. */
export const turned = (v: number): number => Math.fround(1 - v);
