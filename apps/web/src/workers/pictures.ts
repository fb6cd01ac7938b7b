import {
  decodePicture,
  describeSource,
  halvingsTo,
  extractChannel,
  sampleTexels,
  shrink,
  startingRun,
  toRgba8,
  growRecipe,
  type Channel,
  type GrownSource,
  type Picture,
  type Raster,
  type Recipe,
  type RunSource,
  type StepEntry,
} from '@lithe-sieve/core';
import { browserPlatform } from './browser-platform';
import { allocate } from './memory';
import { colourThumb, maskThumb } from './thumbs';
import type { RunRequest, SmallSource, Thumb } from './types';

/** Rows of a recipe that are grown before the worker looks whether something newer is wanted. */
const GROWN_AT_ONCE = 128;
/** Longer side of a picture that masks are proposed for, at the most. */
const PROPOSED_SIDE = 256;
/** Up to this many the recipe before is kept too: what is undone is there at once. */
const MANY_TEXELS = 2048 * 2048;

/** The pictures that a worker has decoded or been given, by the SHA-256 of their files. */
export class Pictures {
  private readonly held = new Map<string, Picture>();
  /** Where the view size is computed: the same shrunk as values. */
  private readonly data = new Map<string, Picture>();
  /** Those whose files have 16 bits a sample, with all of them. */
  private readonly deep = new Map<string, Raster<Uint16Array>>();
  /** And texels picked out of the full size. */
  private readonly samples = new Map<string, Picture>();
  /** At which scale sources were shrunk; tips and parts are held whole and are not listed here. */
  private readonly shrunkTo = new Map<string, number>();
  /** What recipes are grown to, by key and size. */
  private readonly grownOnes = new Map<string, GrownSource>();
  private readonly startingRuns = new Map<string, () => StepEntry[]>();
  /** Texels here to one of the full size. */
  scale = 1;

  get(sha256: string): Picture | undefined {
    return this.held.get(sha256);
  }

  /** Decodes a file and keeps its picture. */
  async decode(sha256: string, bytes: Uint8Array): Promise<Picture> {
    const known = this.held.get(sha256);
    if (known) return known;
    const decoded = await decodePicture(bytes, browserPlatform, allocate);
    const picture = toRgba8(decoded.raster, allocate);
    this.held.set(sha256, picture);
    if (decoded.raster.data instanceof Uint16Array) this.deep.set(sha256, decoded.raster as Raster<Uint16Array>);
    this.startingRuns.set(sha256, () => {
      const facts = describeSource(decoded);
      return startingRun([{ ref: { id: 'source', sha256, fileName: '' }, facts }], () => 'step');
    });
    return picture;
  }

  /** The run that a new piece of this picture alone starts with, once. */
  takeStartingRun(sha256: string): StepEntry[] | undefined {
    const run = this.startingRuns.get(sha256)?.();
    this.startingRuns.delete(sha256);
    return run;
  }

  /** How often full sizes are halved here. */
  useHalvings(halvings: number): void {
    this.scale = 0.5 ** halvings;
  }

  /**
   * What a recipe gives at the size that is computed here; the newest ones are kept.
   *
   * @param checkpoint - Called with the share done; throws to give up.
   * @param draft - The picture alone, wanted soon rather than fine.
   * @param atOnce - Recipes that a run reads.
   */
  grown(key: string, recipe: Recipe, checkpoint: (share: number) => void, draft = false, atOnce = 1): GrownSource {
    const at = `${key} ${this.scale} ${draft}`;
    const known = this.grownOnes.get(at);
    if (known) return known;
    const bands = (height: number, rows: (y0: number, y1: number) => void) => {
      for (let y = 0; y < height; y += GROWN_AT_ONCE) {
        checkpoint(y / height);
        rows(y, Math.min(height, y + GROWN_AT_ONCE));
      }
    };
    // at full size one recipe comes to a gigabyte: the one before goes first
    const isLarge = recipe.width * recipe.height * this.scale * this.scale > MANY_TEXELS;
    const kept = isLarge ? atOnce - 1 : atOnce;
    const olds = [...this.grownOnes.keys()];
    for (const old of olds.slice(0, Math.max(0, olds.length - kept))) this.grownOnes.delete(old);
    const grown = growRecipe(
      recipe,
      { scale: this.scale, allocate, bands, checkpoint },
      { withMaps: !draft, draft, pictureOf: (part) => this.held.get(part), reliefOf: (part) => this.deep.get(part) },
    );
    this.grownOnes.set(at, grown);
    return grown;
  }

  /** Takes a decoded picture over, halved until it is at most view size. */
  adopt(sha256: string, picture: Picture, halvings: number): void {
    // the first source may have become larger or smaller since
    if (this.held.has(sha256) && (this.shrunkTo.get(sha256) ?? this.scale) === this.scale) return;
    this.shrunkTo.set(sha256, this.scale);
    this.held.set(sha256, shrink(picture, halvings, 'colour', allocate));
    for (const others of [this.data, this.samples]) others.delete(sha256);
    if (halvings <= 0) return;
    this.data.set(sha256, shrink(picture, halvings, 'data', allocate));
    this.samples.set(sha256, sampleTexels(picture, halvings));
  }

  /** The picture of a brush's tip, which is drawn at any size from the same texels. */
  adoptTip(sha256: string, picture: Picture): void {
    if (this.held.has(sha256) && !this.shrunkTo.has(sha256)) return; // what was made of it goes by the same object
    this.shrunkTo.delete(sha256);
    this.held.set(sha256, picture);
  }

  /** The maps of a part, see {@link Part}; they were decoded in another worker. */
  adoptRelief(sha256: string, raster: Raster<Uint16Array>): void {
    this.deep.set(sha256, raster);
  }

  /** All samples of a file of 16 bits. */
  deepOf(sha256: string): Raster<Uint16Array> | undefined {
    return this.deep.get(sha256);
  }

  /** Forgets pictures of other pieces. */
  keepOnly(sha256s: readonly string[]): void {
    for (const pictures of [this.held, this.data, this.deep, this.samples, this.shrunkTo]) {
      for (const key of pictures.keys()) if (!sha256s.includes(key)) pictures.delete(key);
    }
    for (const key of this.grownOnes.keys()) {
      if (!sha256s.some((kept) => key.startsWith(kept))) this.grownOnes.delete(key);
    }
  }

  /** Those of a request that are here. */
  sourcesOf({ sources }: RunRequest, checkpoint: (share: number) => void, draft = false): RunSource[] {
    const atOnce = sources.filter((s) => s.recipe).length;
    return sources.flatMap(({ id, sha256, place, recipe }): RunSource[] => {
      if (recipe) {
        const key = draft ? `draft of ${sha256}` : sha256;
        return [{ id, sha256: key, place, ...this.grown(sha256, recipe, checkpoint, draft, atOnce) }];
      }
      const picture = this.held.get(sha256);
      return picture ? [{ id, sha256, place, picture, data: this.data.get(sha256), deep: this.deep.get(sha256) }] : [];
    });
  }

  /** The same as texels picked out of the full size; null where they are not all here. */
  samplesOf({ sources }: RunRequest): RunSource[] | null {
    const picked = sources.flatMap(({ id, sha256, place }) => {
      const picture = this.samples.get(sha256);
      return picture ? [{ id, sha256: `samples of ${sha256}`, place, picture }] : [];
    });
    return picked.length === sources.length ? picked : null;
  }

  /** A picture that was brought in, small enough for proposals; null where it is not here. */
  smallPicture(sha256: string): SmallSource | null {
    const picture = this.held.get(sha256);
    if (!picture) return null;
    const halvings = halvingsTo(PROPOSED_SIDE, picture);
    const scale = (this.shrunkTo.get(sha256) ?? 1) / 2 ** halvings;
    return { picture: shrink(picture, halvings, 'colour'), scale };
  }

  thumb(sha256: string): Thumb | null {
    const picture = this.held.get(sha256);
    return picture ? colourThumb(picture) : null;
  }

  /** Small pictures of the four channels of a source, as grey. */
  channelThumbs(sha256: string): { name: Channel; thumb: Thumb }[] {
    const picture = this.data.get(sha256) ?? this.held.get(sha256);
    if (!picture) return [];
    const work = { allocate, bands: (height: number, rows: (y0: number, y1: number) => void) => rows(0, height) };
    return (['red', 'green', 'blue', 'alpha'] as const).map((name) => ({
      name,
      thumb: maskThumb(extractChannel(picture, name, work)),
    }));
  }
}
