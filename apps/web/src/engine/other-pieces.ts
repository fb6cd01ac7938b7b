import type { AtlasPacking, MapName, PieceDoc, Recipe, Rgb, Stroke } from '@lithe-sieve/core';
import type { Answer, PartFile, RunRequest } from '../workers/types';
import { valueAskedFor } from './answered';
import type { EnginePictures } from './pictures';
import { requestOf } from './request';
import type { Side } from './side';
import { newestTurn } from './turns';

/** What pieces that are not open come to, computed in full beside the one that is: masks, parts and colours to take. */
export class OtherPieces {
  constructor(
    private readonly side: Side,
    private readonly pictures: EnginePictures,
    private readonly learn: (strokes: ReadonlyMap<string, Stroke>) => void,
  ) {}

  /** A map of a piece as a PNG, and how much of the card's width it takes up. @throws `missing-map` */
  mapFileOf(doc: PieceDoc, byHand: readonly Stroke[], map: MapName): Promise<{ bytes: Uint8Array; share: number }> {
    return this.ask(doc, byHand, (request) => this.side.remote.mapFile(request, map));
  }

  /** A piece as a part to grow from, as a PNG. */
  partFileOf(doc: PieceDoc, byHand: readonly Stroke[]): Promise<PartFile> {
    return this.ask(doc, byHand, (request) => this.side.remote.partFile(request));
  }

  /** The two colours that a piece is mostly of. */
  coloursOf(doc: PieceDoc, byHand: readonly Stroke[]): Promise<[Rgb, Rgb]> {
    return this.ask(doc, byHand, (request) => this.side.remote.coloursOf(request));
  }

  /** Lays the parts of an atlas side by side. @param keep - What is placed stays. */
  async pack(recipe: Recipe, keep: boolean): Promise<AtlasPacking> {
    await this.pictures.bringParts(recipe);
    const plain = JSON.parse(JSON.stringify(recipe)) as Recipe;
    return valueAskedFor(() => this.side.remote.pack(plain, keep));
  }

  private async ask<T extends object>(
    doc: PieceDoc,
    byHand: readonly Stroke[],
    question: (request: RunRequest) => Promise<Answer<T>>,
  ): Promise<T> {
    this.learn(new Map(byHand.map((s) => [s.id, s])));
    await this.pictures.bringTips();
    for (const { sha256, recipe } of doc.sources) {
      if (!recipe) await this.pictures.picture(sha256);
      if (recipe) await this.pictures.bringParts(recipe);
    }
    return valueAskedFor(() => question(requestOf(doc, newestTurn(this.side.newest))));
  }
}
