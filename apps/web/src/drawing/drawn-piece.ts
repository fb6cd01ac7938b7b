import {
  cardSurface,
  colourMips,
  mapKind,
  meshSurface,
  vertexTangents,
  type Box,
  type CardSurface,
  type MapKind,
  type MapName,
  type Material,
  type Picture,
  type PlainPart,
  type Raster,
  type Samples,
  type SurfaceMesh,
  type Wraps,
} from '@lithe-sieve/core';
import * as THREE from 'three';
import type { HeldTextures } from './held-textures';
import type { LevelTexture, TextureFilter } from './textures';

/** Where a texture belongs: the maps of a run, the mask's levels as a target has them, a picture shown instead of the result. */
export type TexturePlace = MapName | 'clip' | 'source';
export type PieceMaterial = Pick<Material, 'mode' | 'cutoff' | 'opacity' | 'doubleSided' | 'emission'>;

/** What a colour is multiplied by, linear. */
export type Tint = readonly [number, number, number];

/** What the picture lies on, what stands beside it, and how the back looks. */
export interface DrawnSurface {
  mesh: SurfaceMesh;
  plain: readonly PlainPart[];
  backTint: Tint | null;
  /** How its textures go on beyond their sides. */
  wraps: Wraps;
}

/** A piece as it is drawn: textures by their place, a card, a material. Any number of views may show it. */
export class DrawnPiece {
  material: PieceMaterial = { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: true };
  /** The turn that the mask answers. */
  turn = 0;
  /** A number that no state of any piece had before: what its shadow looks like depends on it. */
  shape = nextShape();
  private readonly held = new Map<TexturePlace, { key: string; texture: LevelTexture }>();
  private on = cardSurface({ cardWidth: 1 }, { width: 1, height: 1 });
  private wraps: Wraps = CLAMPED;
  private backTint: Tint | null = null;
  private made: THREE.BufferGeometry | null = null;
  private plainMade: THREE.BufferGeometry[] | null = null;

  /** @param key - That no other piece has. */
  constructor(
    readonly key: string,
    private readonly textures: HeldTextures,
  ) {}

  texture(place: TexturePlace): THREE.Texture | null {
    return this.held.get(place)?.texture.value ?? null;
  }

  /** For a view that samples them: as a renderer does, or within the picture alone. */
  sampleTextures(renderer: THREE.WebGLRenderer, as: 'set' | 'clamped', filter: TextureFilter = 'trilinear'): void {
    for (const { texture } of this.held.values())
      texture.sampleAs(renderer, as === 'set' ? this.wraps : CLAMPED, filter);
  }

  /** The mask as a target has it. */
  get clip(): THREE.Texture | null {
    return this.texture('clip') ?? this.texture('mask');
  }

  get hasPicture(): boolean {
    return this.held.has('mask') && this.held.has('colour');
  }

  /** @returns false where the same texels are there already. */
  set(place: TexturePlace, key: string | null, levels: readonly Raster<Samples>[]): boolean {
    const before = this.held.get(place);
    if (key !== null && before?.key === key) return false;
    const given = place === 'source' ? [levels[0], ...colourMips(levels[0] as Picture)] : levels;
    this.shape = nextShape();
    if (key === null && before?.key === this.own(place)) {
      before.texture.set(given);
      return true;
    }
    const kept = key ?? this.own(place);
    const texture = before
      ? this.textures.change(before.key, kept, kindOf(place), given)
      : this.textures.hold(kept, kindOf(place), given);
    this.held.set(place, { key: kept, texture });
    return true;
  }

  /** Parts of a texture that lies in the same memory as before. @param levels - Level 0 alone while a stroke is drawn. */
  patch(
    place: TexturePlace,
    renderer: THREE.WebGLRenderer,
    levels: readonly Raster<Samples>[],
    parts: readonly Box[],
  ): void {
    let held = this.held.get(place);
    if (!held) return;
    const own = this.own(place);
    if (held.key !== own) {
      held = { key: own, texture: this.textures.apart(held.key, own, kindOf(place)) };
      this.held.set(place, held);
    }
    held.texture.patch(renderer, levels, parts);
    if (levels.length > 1) this.shape = nextShape();
  }

  /** @returns false where there is none of them. */
  drop(places: readonly TexturePlace[]): boolean {
    const gone = places.filter((place) => this.held.has(place));
    for (const place of gone) {
      this.textures.letGo(this.held.get(place)!.key);
      this.held.delete(place);
    }
    if (gone.length > 0) this.shape = nextShape();
    return gone.length > 0;
  }

  get surface(): CardSurface {
    return this.on;
  }

  setSurface({ mesh, plain, backTint, wraps }: DrawnSurface): void {
    this.on = meshSurface(mesh, { plain, wraps });
    this.wraps = wraps;
    this.backTint = backTint;
    this.disposeGeometry();
    this.shape = nextShape();
  }

  get geometry(): THREE.BufferGeometry {
    const made = (this.made ??= geometryOf(this.on.mesh, this.backTint));
    // a tenth of a second for a large mesh: only normals need it
    if (this.held.has('normal') && !made.hasAttribute(TANGENT)) {
      made.setAttribute(TANGENT, new THREE.BufferAttribute(vertexTangents(this.on.mesh), 4));
    }
    return made;
  }

  /** Whether it is more than one flat card that faces the front. */
  get isFolded(): boolean {
    const { bounds, mesh } = this.on;
    return bounds.max[2] - bounds.min[2] > 1e-6 || mesh.indices.length > 6;
  }

  /** Of what stands beside it and shows no picture. */
  get plain(): readonly THREE.BufferGeometry[] {
    return (this.plainMade ??= this.on.plain.map(({ mesh }) => geometryOf(mesh)));
  }

  dispose(): void {
    this.drop([...this.held.keys()]);
    this.disposeGeometry();
  }

  private disposeGeometry(): void {
    for (const geometry of [this.made, ...(this.plainMade ?? [])]) geometry?.dispose();
    this.made = null;
    this.plainMade = null;
  }

  private own(place: TexturePlace): string {
    return `${this.key} ${place}`;
  }
}

const CLAMPED: Wraps = { across: 'clamp', down: 'clamp' };

let shapes = 0;
const nextShape = () => ++shapes;

function kindOf(place: TexturePlace): MapKind {
  return mapKind(place === 'clip' ? 'mask' : place === 'source' ? 'colour' : place);
}

/** Where it is missing the shader takes the axes from how the picture changes on the screen. */
const TANGENT = 'cardTangent';

function geometryOf(mesh: SurfaceMesh, backTint: Tint | null = null): THREE.BufferGeometry {
  const { positions, normals, uvs, indices } = mesh;
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
  geometry.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
  geometry.setAttribute('uv', new THREE.BufferAttribute(uvs, 2));
  geometry.setAttribute('color', new THREE.BufferAttribute(coloursOf(mesh, backTint), 3));
  geometry.setAttribute('cardBack', new THREE.BufferAttribute(backsOf(mesh), 1));
  geometry.setAttribute('cardTip', new THREE.BufferAttribute(tipsOf(mesh), 1));
  geometry.setIndex(new THREE.BufferAttribute(indices, 1));
  return geometry;
}

/** What the colour of each vertex is multiplied by: a back has vertices of its own. */
function coloursOf({ positions, indices, backFrom }: SurfaceMesh, tint: Tint | null): Float32Array {
  const colours = new Float32Array(positions.length).fill(1);
  if (tint && backFrom !== undefined) for (const i of indices.subarray(backFrom)) colours.set(tint, 3 * i);
  return colours;
}

/** From root to tip, 0 to 1: by height where the mesh does not say. */
function tipsOf({ positions, rootTip }: SurfaceMesh): Float32Array {
  if (rootTip) return rootTip;
  const heights = positions.filter((_, i) => i % 3 === 1);
  const [least, most] = heights.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)], [Infinity, -Infinity]);
  return heights.map((v) => (v - least) / Math.max(1e-9, most - least));
}

/** 1 for each vertex of a back, else 0. */
function backsOf({ positions, indices, backFrom }: SurfaceMesh): Float32Array {
  const backs = new Float32Array(positions.length / 3);
  if (backFrom !== undefined) for (const i of indices.subarray(backFrom)) backs[i] = 1;
  return backs;
}
