export const PART_MAPS = ['normal', 'height', 'translucency'] as const;
export type PartMap = (typeof PART_MAPS)[number];

/** A copy of a piece, to grow from: its colour with the mask as alpha, trimmed. */
export interface RecipePart {
  /** Digest of the copy's file. */
  sha256: string;
  name: string;
  /** Texels. */
  width: number;
  height: number;
  /** Which piece it was taken from, and at which revision. */
  piece: string;
  revision: number;
  /** SHA-256 of the file of its maps, 16 bits each: normal to the right and up, height, translucency. */
  relief?: string | undefined;
  /** Which of these its piece makes. */
  maps?: PartMap[] | undefined;
  /** Which of several grown from its piece with seeds of their own, from 1. */
  variation?: number | undefined;
  /** Width of what it shows, metres. */
  metres?: number | undefined;
  /** In an atlas: how many copies of it there are, how large it is against others, and whom it lies beside. */
  copies?: number | undefined;
  weight?: number | undefined;
  group?: string | undefined;
}

/** Parts of what grows them at places of its own. */
export const MOST_PARTS = 12;

/** Files that a recipe is grown from, by SHA-256. */
export function partFiles({ parts = [] }: { parts?: RecipePart[] | undefined }): { sha256: string; name: string }[] {
  return parts.flatMap(({ sha256, relief, name }) => [sha256, ...(relief ? [relief] : [])].map((f) => ({ sha256: f, name }))); // prettier-ignore
}

/** How many times their own height parts are drawn at a length of so many texels, at the most. */
export function enlargedTo(texels: number, parts: readonly RecipePart[]): number {
  return Math.max(0, ...parts.map((p) => texels / p.height));
}
