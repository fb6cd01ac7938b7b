import { allocateHeap, type Allocate, type Samples } from '../raster/raster.ts';

/**
 * Divides premultiplied colours by their alpha, in place; what is over full becomes full. Colour under alpha 0 stays.
 *
 * @param channels - 2 or 4, alpha last.
 */
export function divideByAlpha(data: Samples, channels: number): void {
  const full = data instanceof Uint8Array ? 255 : 65535;
  for (let i = channels - 1; i < data.length; i += channels) {
    const alpha = data[i];
    if (alpha === 0 || alpha === full) continue;
    for (let c = i - channels + 1; c < i; c++) data[c] = Math.min(full, Math.floor((data[c] * full) / alpha + 0.5));
  }
}

/** The first channels of RGBA: 1 grey, 3 RGB. */
export function firstChannels(rgba: Uint8Array, channels: 1 | 3 | 4, allocate: Allocate = allocateHeap): Uint8Array {
  if (channels === 4) return rgba;
  const out = allocate((rgba.length / 4) * channels);
  for (let i = 0, o = 0; i < rgba.length; i += 4) for (let c = 0; c < channels; c++) out[o++] = rgba[i + c];
  return out;
}
