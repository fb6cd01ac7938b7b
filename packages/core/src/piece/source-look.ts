import type { DecodedPicture } from '../codec/picture.ts';
import { luminance8 } from '../colour/luminance.ts';
import type { Samples } from '../raster/raster.ts';
import type { RowSink } from '../raster/rows.ts';
import { borderColour, borderPlaces } from './border-colour.ts';
import { addToTally, makeTally, remarksOn } from './remarks.ts';
import type { AlphaState, SourceFacts } from './source-facts.ts';

/** Texels looked at for shares. */
const SAMPLED = 1 << 20;

/**
 * What a picture holds, computed from its rows as they come, so that it need not be in memory whole. Alpha and grey look
 * at every texel; shares are taken from a million texels at most.
 */
export class SourceLook implements RowSink {
  private readonly step: number;
  private readonly tally = makeTally();
  private readonly border = new Map<number, number[]>();
  private readonly borderTexels: number[];
  private grey = true;
  private extreme = 0;
  private firstAlpha = -1;
  private alphaVaries = false;

  constructor(private readonly of: { width: number; height: number; channels: 1 | 2 | 3 | 4 }) {
    const texels = of.width * of.height;
    this.step = Math.max(1, Math.floor(texels / SAMPLED)) | 1;
    const places = borderPlaces(of.width, of.height);
    this.borderTexels = new Array<number>(places.length).fill(0);
    for (const [i, place] of places.entries()) {
      const y = Math.floor(place / of.width);
      this.border.set(y, [...(this.border.get(y) ?? []), i, place - y * of.width]);
    }
  }

  row(y: number, rgba: Uint32Array, samples: Samples): void {
    const { width, channels } = this.of;
    if (this.grey) this.lookForColour(rgba);
    if (channels === 2 || channels === 4) this.lookAtAlpha(samples, channels);
    const start = y * width;
    for (let x = (this.step - (start % this.step)) % this.step; x < width; x += this.step) {
      const w = rgba[x];
      addToTally(this.tally, w);
      const light = luminance8(w & 255, (w >>> 8) & 255, (w >>> 16) & 255);
      if (light < 32 || light > 223) this.extreme++;
    }
    const places = this.border.get(y) ?? [];
    for (let i = 0; i < places.length; i += 2) this.borderTexels[places[i]] = rgba[places[i + 1]];
  }

  /** @param decoded - Without its samples. */
  facts({ format, bitDepth, palette, notes }: Omit<DecodedPicture, 'raster'>): SourceFacts {
    const { width, height, channels } = this.of;
    const { looked, full } = this.tally;
    const alpha = this.alphaState();
    return {
      format,
      width,
      height,
      channels,
      bitDepth,
      palette,
      alpha,
      alphaBelow: (looked - full) / looked,
      grey: this.grey,
      blackOrWhite: this.extreme / looked,
      border: borderColour(this.borderTexels),
      notes: [...notes, ...remarksOn(width, height, alpha === 'present' ? this.tally : null)],
    };
  }

  private lookForColour(rgba: Uint32Array): void {
    let differ = 0; // without a branch for each texel
    for (let x = 0; x < rgba.length; x++) differ |= rgba[x] ^ (rgba[x] >>> 8);
    this.grey = (differ & 0xffff) === 0;
  }

  private lookAtAlpha(samples: Samples, channels: number): void {
    if (this.alphaVaries) return;
    const full = samples instanceof Uint8Array ? 255 : 65535;
    if (this.firstAlpha < 0) {
      this.firstAlpha = samples[channels - 1];
      this.alphaVaries = this.firstAlpha !== full && this.firstAlpha !== 0;
    }
    const { firstAlpha } = this;
    let differ = 0;
    for (let i = channels - 1; i < samples.length; i += channels) differ |= samples[i] ^ firstAlpha;
    if (differ !== 0) this.alphaVaries = true;
  }

  private alphaState(): AlphaState {
    if (this.of.channels === 1 || this.of.channels === 3) return 'none';
    if (this.alphaVaries) return 'present';
    return this.firstAlpha === 0 ? 'transparent' : 'opaque';
  }
}
