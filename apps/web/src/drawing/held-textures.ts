import type { MapKind, Raster, Samples } from '@lithe-sieve/core';
import { LevelTexture } from './textures';

/**
 * Textures by key, each with the number of its owners: what two pieces show alike is on the graphics card once, and leaves
 * it with the last of them.
 */
export class HeldTextures {
  private readonly held = new Map<string, { texture: LevelTexture; owners: number }>();

  /** @param maxSide - Of the graphics card, texels. */
  constructor(private readonly maxSide: number) {}

  get count(): number {
    return this.held.size;
  }

  /** One more owner. @param levels - Taken where nobody holds the key. */
  hold(key: string, kind: MapKind, levels: readonly Raster<Samples>[]): LevelTexture {
    let entry = this.held.get(key);
    if (!entry) {
      entry = { texture: new LevelTexture(kind, this.maxSide), owners: 0 };
      entry.texture.set(levels);
      this.held.set(key, entry);
    }
    entry.owners++;
    return entry.texture;
  }

  letGo(key: string): void {
    const entry = this.held.get(key);
    if (!entry || --entry.owners > 0) return;
    this.held.delete(key);
    entry.texture.dispose();
  }

  /** One owner goes over to other texels: in the same place on the graphics card where nobody else holds either. */
  change(from: string, to: string, kind: MapKind, levels: readonly Raster<Samples>[]): LevelTexture {
    const entry = this.held.get(from)!;
    if (entry.owners > 1 || this.held.has(to)) {
      this.letGo(from);
      return this.hold(to, kind, levels);
    }
    this.held.delete(from);
    this.held.set(to, entry);
    entry.texture.set(levels);
    return entry.texture;
  }

  /** One owner's texture under a key of its own, since its texels change: for any other owner they stay. */
  apart(key: string, own: string, kind: MapKind): LevelTexture {
    const { texture, owners } = this.held.get(key)!;
    if (owners > 1) {
      this.letGo(key);
      return this.hold(own, kind, texture.levels);
    }
    this.held.delete(key);
    this.held.set(own, { texture, owners });
    return texture;
  }
}
