import { REC709 } from '../../colour/luminance.ts';
import type { MapName } from '../../raster/maps.ts';
import type { Picture, Raster, Samples } from '../../raster/raster.ts';
import { mapOf, type RunState } from '../../raster/run-state.ts';
import { extractChannel, type Channel } from '../from-channel.ts';
import type { StepEnv } from '../step.ts';

/** How a map of the run is read as one value a texel. */
export interface MapReading {
  map: MapName;
  /** Of a map of several; a measure that the map does not have is its luminance. */
  channel: Channel;
}

/**
 * Fills a row with the values 0–1 of a map as it comes into the step.
 *
 * @throws {@link SieveError} `missing-map`
 */
export function mapRows(
  state: RunState,
  { map, channel }: MapReading,
  env: Pick<StepEnv, 'allocate' | 'bands'>,
): (y: number, row: Float32Array) => void {
  const raster = mapOf(state, map);
  const { data, channels, width } = isPicture(raster) ? extractChannel(raster, channel, env) : raster;
  const full = data instanceof Uint8Array ? 255 : 65535;
  const weights = weightsOf(channel, channels);
  return (y, row) => {
    for (let x = 0, i = y * width * channels; x < width; x++, i += channels) {
      let sum = 0;
      for (let k = 0; k < weights.length; k++) sum += weights[k] * data[i + k];
      row[x] = sum / full;
    }
  };
}

const isPicture = (raster: Raster<Samples>): raster is Picture =>
  raster.channels === 4 && raster.data instanceof Uint8Array;

function weightsOf(channel: Channel, channels: number): number[] {
  if (channels < 3) return [1];
  const own = ['red', 'green', 'blue'].indexOf(channel);
  return own < 0 ? [REC709.r, REC709.g, REC709.b] : [0, 1, 2].map((k) => (k === own ? 1 : 0));
}
