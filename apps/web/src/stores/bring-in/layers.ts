import { cutText, LIMITS, type SourcePlace } from '@lithe-sieve/core';
import { ApiError } from '../../api/http';
import type { Engine } from '../../engine/engine';

export const LAYERED_EXTENSION = '.ora';

/** Layered files become the files of their layers. @param failed - Hears of one that cannot be read. */
export function useLayers(engine: () => Engine, failed: (fileName: string, error: unknown) => void) {
  /** Where layers lie on the canvas of their file. */
  const places = new WeakMap<File, SourcePlace>();

  async function apart(files: readonly File[]): Promise<{ layered: File[][]; flat: File[] }> {
    const flat: File[] = [];
    const layered: File[][] = [];
    for (const file of files) {
      if (!file.name.toLowerCase().endsWith(LAYERED_EXTENSION)) flat.push(file);
      else {
        const layers = await layersOf(file);
        if (layers) layered.push(layers);
      }
    }
    return { layered, flat };
  }

  async function layersOf(file: File): Promise<File[] | null> {
    const bare = file.name.slice(0, -LAYERED_EXTENSION.length);
    try {
      const layers = await engine().layersOf(file);
      if (!layers)
        throw new ApiError(415, 'unknown-format', 'It is not a layered picture.', 'Save it as OpenRaster again.');
      return layers.map(({ name, png, place }) => {
        const file = new File([png as BlobPart], `${cutText(`${bare}, ${name}`, LIMITS.fileName - 4)}.png`);
        if (place) places.set(file, place);
        return file;
      });
    } catch (error) {
      failed(file.name, error);
      return null;
    }
  }

  return { apart, placeOf: (file: File) => places.get(file) };
}
