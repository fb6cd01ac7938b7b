import type { PlainPart } from '../card/surface.ts';
import type { SurfaceMesh } from '../card/surface-mesh.ts';
import type { GltfMaterial, MaterialPart } from '../material/gltf-material.ts';
import type { BackLook, PieceView } from '../material/piece-view.ts';

/** A card to be written: its base colour and what lies beside it, as PNG files. */
export interface CardGlb extends Pick<PieceView, 'name' | 'names' | 'surface' | 'material' | 'sway' | 'wrap'> {
  base: Uint8Array;
  /** A back that looks otherwise; its base null where it has the front's. */
  back: { tint: BackLook['tint']; base: Uint8Array | null } | null;
  /** In this order. */
  textures: readonly CardTexture[];
}

/** The same with each picture in a file beside it, by its name. */
export interface CardApart extends Pick<PieceView, 'name' | 'names' | 'surface' | 'material' | 'sway' | 'wrap'> {
  base: string;
  back: { tint: BackLook['tint']; base: string | null } | null;
  textures: readonly (Omit<CardTexture, 'png'> & { uri: string })[];
  /** Name of the file of its geometry. */
  geometry: string;
}

/** A file that lies beside, by its name; null: it does not. */
export type Beside = (name: string) => Uint8Array | null;

/** A texture beside the base colour. */
export interface CardTexture {
  label: string;
  png: Uint8Array;
  /** What it sets in the material, given its place in the file. */
  into: (index: number) => MaterialPart[];
}

/** What a GLB holds of a card. */
export interface ReadGlb {
  /** With the defaults of glTF 2.0 §5.19 where it says nothing. */
  material: { alphaMode: string; alphaCutoff: number; doubleSided: boolean; opacity: number; emission: number };
  mesh: SurfaceMesh;
  /** x y z w a vertex (glTF 2.0 §3.7.2.1); null where it has none. */
  tangents: Float32Array | null;
  /** A back with a look of its own; null: there is none. */
  back: { mesh: SurfaceMesh; tangents: Float32Array | null; tint: number[]; image: Uint8Array } | null;
  /** What of the mesh shows no picture, by the names of its materials. */
  plain: PlainPart[];
  /** The base colour image as a file. */
  image: Uint8Array;
  /** The image of a texture of its material, where there is one. */
  imageOf(textureOf: (material: GltfMaterial) => { index: number } | undefined): Uint8Array | null;
}

/** The container of glTF 2.0 §4.4, or its files apart, and the meshes in it. */
export interface GlbTools {
  /** Tangents are computed where the material has normals. */
  write(card: CardGlb): Promise<Uint8Array>;
  writeApart(card: CardApart): Promise<{ json: Uint8Array; bin: Uint8Array }>;
  /** @throws SieveError `corrupt` where they are no GLB with a card. */
  read(bytes: Uint8Array): Promise<ReadGlb>;
  /** @throws SieveError `corrupt` where it is none, or a file that it names is missing. */
  readApart(json: Uint8Array, beside: Beside): Promise<ReadGlb>;
  /** Every issue that the official glTF validator finds, at any severity of error or warning. */
  validate(bytes: Uint8Array, beside?: Beside): Promise<string[]>;
}
