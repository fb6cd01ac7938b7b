import type { Raster } from '@lithe-sieve/core';
import * as THREE from 'three';

/**
 * A texture whose mip levels are the ones given, uploaded level by level. Levels larger than the graphics card takes
 * are left out: the first that fits becomes level 0 there.
 */
export class LevelTexture {
  private texture: THREE.DataTexture | null = null;

  constructor(
    private readonly kind: 'mask' | 'colour',
    private readonly maxSide: number,
  ) {}

  get value(): THREE.DataTexture | null {
    return this.texture;
  }

  /** @param levels - Level 0 first, down to 1 × 1. */
  set(levels: readonly Raster[]): void {
    const fitting = levels.filter((l) => l.width <= this.maxSide && l.height <= this.maxSide);
    const [top] = fitting;
    const mipmaps = fitting.map(({ data, width, height }) => ({
      data: data as Uint8Array<ArrayBuffer>,
      width,
      height,
    }));
    const before = this.texture?.image as { width: number; height: number } | undefined;
    if (before?.width !== top.width || before.height !== top.height) {
      this.texture?.dispose();
      this.texture = this.make(top);
    }
    const texture = this.texture!;
    texture.image = mipmaps[0];
    texture.mipmaps = mipmaps;
    texture.needsUpdate = true;
  }

  private make({ width, height }: Raster): THREE.DataTexture {
    const format = this.kind === 'mask' ? THREE.RedFormat : THREE.RGBAFormat;
    const texture = new THREE.DataTexture(null, width, height, format, THREE.UnsignedByteType);
    texture.generateMipmaps = false;
    texture.minFilter = THREE.LinearMipmapLinearFilter;
    texture.magFilter = THREE.LinearFilter;
    texture.unpackAlignment = 1;
    if (this.kind === 'colour') texture.colorSpace = THREE.SRGBColorSpace;
    return texture;
  }

  dispose(): void {
    this.texture?.dispose();
    this.texture = null;
  }
}
