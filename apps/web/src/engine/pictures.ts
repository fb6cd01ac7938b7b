import {
  declaredSize,
  halvingsTo,
  partFiles,
  toPlainError,
  type Picture,
  type Recipe,
  type SourceRef,
  type Stroke,
} from '@lithe-sieve/core';
import { fetchSourceBytes } from '../api/sources.api';
import { AnsweredError, valueNeeded } from './answered';
import type { Side } from './side';

/** Longest side of what first updates are computed on. */
const VIEW_SIDE = 512;

/** Makes the pictures of sources and brush tips ready in both workers; each is decoded once. */
export class EnginePictures {
  private readonly loading = new Map<string, Promise<Picture>>();
  private readonly tips = new Set<string>();
  /** Files of parts that both sides have. */
  private readonly brought = new Set<string>();
  /** Recipes of sources that are grown, by their keys. */
  private readonly recipes = new Map<string, Recipe>();
  private halvings = 0;
  /** Texels of the largest picture so far. */
  largest = 0;

  constructor(
    private readonly full: Side,
    private readonly view: Side,
  ) {}

  /** A stroke may be drawn with the mask of a piece. */
  noteTips(strokes: readonly Stroke[]): void {
    for (const stroke of strokes) {
      if (stroke.kind === 'brush' && stroke.brush.tip === 'piece') this.tips.add(stroke.brush.picture);
    }
  }

  async bringTip(sha256: string): Promise<void> {
    this.tips.add(sha256);
    await this.bringPart(sha256);
  }

  /** A part is read at any size from all its texels, on both sides. */
  private async bringPart(sha256: string): Promise<void> {
    await this.view.remote.adoptTip(sha256, await this.picture(sha256));
  }

  /** What a recipe is grown from. */
  async bringParts({ parts = [] }: Recipe): Promise<void> {
    for (const { sha256, relief } of parts) {
      await this.once(sha256, () => this.bringPart(sha256));
      if (relief) await this.once(relief, () => this.bringRelief(relief));
    }
  }

  private async bringRelief(sha256: string): Promise<void> {
    await this.picture(sha256);
    const raster = await this.full.remote.reliefOf(sha256);
    if (raster) await this.view.remote.adoptRelief(sha256, raster);
  }

  /** A recipe that is dragged asks for its parts at every move. */
  private async once(sha256: string, bring: () => Promise<void>): Promise<void> {
    if (this.brought.has(sha256)) return;
    await bring();
    this.brought.add(sha256);
  }

  async bringTips(): Promise<void> {
    for (const sha256 of this.tips) await this.bringTip(sha256);
  }

  /** The first source sets the scale of the view. Pictures of pieces that were left are forgotten. */
  async load(sources: readonly SourceRef[]): Promise<void> {
    await this.bringTips();
    for (const [i, { sha256, fileName, recipe }] of sources.entries()) {
      if (recipe) {
        this.recipes.set(sha256, recipe);
        await this.bringParts(recipe);
        this.note(recipe);
        if (i === 0) await this.useHalvings(halvingsTo(VIEW_SIDE, recipe));
        continue; // the workers grow it when a run asks for it
      }
      const picture = await this.picture(sha256).catch((error: unknown) => {
        const plain = toPlainError(error);
        throw new AnsweredError({ ...plain, message: `${fileName}: ${plain.message}` });
      });
      await this.adopt(sha256, picture, i === 0);
    }
    const parts = sources.flatMap((s) => (s.recipe ? partFiles(s.recipe).map((p) => p.sha256) : []));
    this.forgetOthers([...sources.map((s) => s.sha256), ...parts, ...this.tips]);
  }

  /** Decodes a file while it is on its way to the server. @returns its SHA-256. */
  async prepare(file: Blob): Promise<string> {
    const bytes = await file.arrayBuffer();
    const sha256 = hex(await crypto.subtle.digest('SHA-256', bytes));
    const picture = this.remember(sha256, this.decode(sha256, new Uint8Array(bytes)));
    await this.adopt(sha256, await picture, true);
    return sha256;
  }

  picture(sha256: string): Promise<Picture> {
    const recipe = this.recipes.get(sha256);
    if (recipe) return this.grow(sha256, recipe);
    return this.loading.get(sha256) ?? this.remember(sha256, this.decode(sha256, fetchSourceBytes(sha256)));
  }

  private note({ width, height }: { width: number; height: number }): void {
    this.largest = Math.max(this.largest, width * height);
  }

  private async adopt(sha256: string, picture: Picture, first: boolean): Promise<void> {
    this.note(picture);
    if (first) await this.useHalvings(halvingsTo(VIEW_SIDE, picture));
    await this.view.remote.adopt(sha256, picture, this.halvings);
  }

  private async useHalvings(halvings: number): Promise<void> {
    this.halvings = halvings;
    await this.view.remote.useHalvings(halvings);
  }

  private forgetOthers(kept: string[]): void {
    for (const known of [this.loading, this.recipes]) {
      for (const key of known.keys()) if (!kept.includes(key)) known.delete(key);
    }
    for (const part of this.brought) if (!kept.includes(part)) this.brought.delete(part);
    void this.full.remote.keepOnly(kept);
    void this.view.remote.keepOnly(kept);
  }

  private remember(sha256: string, picture: Promise<Picture>): Promise<Picture> {
    picture.catch(() => this.loading.delete(sha256));
    this.loading.set(sha256, picture);
    return picture;
  }

  private async grow(key: string, recipe: Recipe): Promise<Picture> {
    return valueNeeded(await this.full.remote.grow(key, JSON.parse(JSON.stringify(recipe)) as Recipe));
  }

  private async decode(sha256: string, from: Uint8Array | Promise<Uint8Array>): Promise<Picture> {
    const bytes = await from;
    this.note(sizeOf(bytes)); // before the worker is silent over it
    return valueNeeded(await this.full.remote.prepare(sha256, bytes));
  }
}

/** What a file says of its size; nothing where it is no picture, which the worker says. */
function sizeOf(bytes: Uint8Array): { width: number; height: number } {
  try {
    return declaredSize(bytes);
  } catch {
    return { width: 0, height: 0 };
  }
}

function hex(digest: ArrayBuffer): string {
  return Array.from(new Uint8Array(digest), (byte) => byte.toString(16).padStart(2, '0')).join('');
}
