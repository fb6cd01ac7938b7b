import {
  decodePicture,
  readPng,
  toEightBits,
  writePng,
  writeTga,
  writeTiff,
  type PackTools,
  type Raster,
  type Samples,
} from '@lithe-sieve/core';
import { writeWebp } from './webp.ts';
import { deflateInStrips, nodePlatform } from './node-platform.ts';

const asBytes = (raster: Raster<Samples>): Raster => ({ ...raster, data: toEightBits(raster.data) });

/** How pictures become files here, and are read again. */
export const pictureTools: Pick<PackTools, 'encode' | 'decode' | 'encodePng' | 'decodePng'> = {
  encode(raster, extension, isColour) {
    switch (extension) {
      case 'png':
        return writePng(raster, deflateInStrips, isColour);
      case 'tif':
        return writeTiff(raster, deflateInStrips);
      case 'tga':
        return Promise.resolve(writeTga(asBytes(raster)));
      case 'webp':
        return writeWebp(raster);
    }
  },
  decode: (bytes) => decodePicture(bytes, nodePlatform),
  encodePng: (raster) => writePng(raster, deflateInStrips),
  decodePng: (bytes) => readPng(bytes, nodePlatform),
};
