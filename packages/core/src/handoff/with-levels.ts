/** Texels of so many textures with all their mip levels, each a quarter of the one before, by those of level 0. */
export const withLevels = (textures: number): number => (textures * 4) / 3;
