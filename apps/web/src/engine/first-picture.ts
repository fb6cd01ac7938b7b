import { colourMips, makeMask, makePicture, maskMips, readPng, type Mask, type Picture } from '@lithe-sieve/core';
import { fetchFirstView } from '../api/pieces.api';
import { inflate } from '../workers/inflate';

/** What a piece shows until something is computed: as the server keeps it, at view size. */
export interface FirstPicture {
  /** Level 0 first. */
  colour: Picture[];
  mask: Mask[];
  /** Texels of the full size. */
  width: number;
  height: number;
}

/** Null where the server keeps nothing of the newest revision. */
export async function firstPictureOf(pieceId: string): Promise<FirstPicture | null> {
  const view = await fetchFirstView(pieceId);
  if (!view) return null;
  const { raster } = await readPng(view.png, { inflate });
  if (raster.channels !== 4 || !(raster.data instanceof Uint8Array)) return null;
  const { width, height, data } = raster;
  const mask = makeMask(width, height, new Uint8Array(width * height));
  for (let i = 0; i < mask.data.length; i++) mask.data[i] = data[4 * i + 3];
  const colour = makePicture(width, height, data);
  const { width: across, height: down } = view;
  return { colour: [colour, ...colourMips(colour)], mask: [mask, ...maskMips(mask)], width: across, height: down };
}
