import type { CardSurface, Change, MapName, Raster, Samples, Wraps } from '@lithe-sieve/core';
import type { PieceMaterial, TexturePlace, Tint } from '../../drawing/drawn-piece';
import type { ToDrawing } from '../../drawing/messages';

type Levels = readonly Raster<Samples>[];

/** What the drawing worker was sent of a piece: what changed is sent, and all of it to a worker that takes the place of one. */
export class SentPiece {
  /** Texels of the largest texture. */
  largest = 0;
  private readonly sent = new Map<TexturePlace | 'surface' | 'material', ToDrawing>();
  /** How many pieces were shown. */
  private opening = 0;

  constructor(private readonly send: (message: ToDrawing) => void) {}

  /** Of this opening of a piece. */
  get key(): string {
    return `opening ${this.opening}`;
  }

  /** @param key - The same key, the same texels. */
  texture(
    place: TexturePlace,
    levels: Levels,
    { change = 'whole', turn = null, key = null }: { change?: Change; turn?: number | null; key?: string | null } = {},
  ): void {
    const before = this.sent.get(place);
    const [first] = levels;
    this.largest = Math.max(this.largest, first.width * first.height);
    const isPart = before?.type === 'texture' && before.levels[0].width === first.width;
    const message = { type: 'texture' as const, piece: this.key, place, key, levels, turn };
    this.sent.set(place, { ...message, change: 'whole' });
    this.send({ ...message, change: isPart ? change : 'whole' });
  }

  /** null: it has none. */
  textureOrNone(place: TexturePlace, levels: Levels | null): void {
    if (levels) this.texture(place, levels);
    else this.drop([place]);
  }

  /** A part of level 0 of a map; its smaller levels follow. */
  part(map: MapName, level: Raster<Samples>, change: Change): void {
    this.send({ type: 'texture', piece: this.key, place: map, key: null, levels: [level], change, turn: null });
  }

  /** Forgets every map beside colour and mask that is not among these. */
  keepMaps(names: readonly MapName[]): void {
    const kept: unknown[] = ['mask', 'colour', 'clip', 'source', ...names];
    this.drop(
      [...this.sent.values()].flatMap((m) => (m.type === 'texture' && !kept.includes(m.place) ? [m.place] : [])),
    );
  }

  private drop(places: readonly TexturePlace[]): void {
    const gone = places.filter((place) => this.sent.delete(place));
    if (gone.length > 0) this.send({ type: 'drop', piece: this.key, places: gone });
  }

  /** @param backTint - null: its back looks as its front. */
  surface({ mesh, plain }: CardSurface, backTint: Tint | null, wraps: Wraps): void {
    this.kept('surface', { type: 'surface', piece: this.key, mesh, plain, backTint, wraps });
  }

  /** Where it is another one than before. */
  material(material: PieceMaterial): void {
    const before = this.sent.get('material');
    if (before?.type === 'material' && before.material === material) return;
    this.kept('material', { type: 'material', piece: this.key, material });
  }

  private kept(place: 'surface' | 'material', message: ToDrawing): void {
    this.sent.set(place, message);
    this.send(message);
  }

  /** To a worker that has nothing. */
  again(): void {
    for (const message of this.sent.values()) this.send(message);
  }

  /** It was left: what is sent from now on is of another. */
  forget(): void {
    this.sent.clear();
    this.send({ type: 'forget', piece: this.key });
    this.opening++;
  }
}
