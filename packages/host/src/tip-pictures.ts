import { decodePicture, toRgba8, type Picture, type Raster } from '@lithe-sieve/core';
import { nodePlatform } from './node-platform.ts';

/** The file of a brush's tip, or of a part of a recipe. */
export interface TipFile {
  sha256: string;
  bytes: Uint8Array;
}

/** Pictures by the SHA-256 of their files, and those of 16 bits with all of them. */
export interface TipPictures {
  readonly pictureOf: (sha256: string) => Picture | undefined;
  readonly reliefOf: (sha256: string) => Raster<Uint16Array> | undefined;
}

class DecodedTips implements TipPictures {
  private readonly pictures = new Map<string, Picture>();
  private readonly deep = new Map<string, Raster<Uint16Array>>();

  readonly pictureOf = (sha256: string): Picture | undefined => {
    const deep = this.deep.get(sha256);
    return deep ? toRgba8(deep) : this.pictures.get(sha256);
  };
  readonly reliefOf = (sha256: string): Raster<Uint16Array> | undefined => this.deep.get(sha256);

  async decode({ sha256, bytes }: TipFile): Promise<void> {
    const { raster } = await decodePicture(bytes, nodePlatform);
    if (raster.data instanceof Uint16Array) this.deep.set(sha256, raster as Raster<Uint16Array>);
    else this.pictures.set(sha256, toRgba8(raster));
  }
}

/** The pictures of brush tips, and of what recipes are grown from. */
export async function decodeTips(files: readonly TipFile[]): Promise<TipPictures> {
  const out = new DecodedTips();
  for (const file of files) await out.decode(file);
  return out;
}
