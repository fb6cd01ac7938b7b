import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

let collector: (() => void) | undefined;

/**
 * Gives the memory of pictures that nothing holds any more back to the system. The collector of a thread that waits for
 * its next task would not begin by itself, and counts the small objects that hold pictures, not the pictures.
 */
export function collect(): void {
  if (!collector) {
    setFlagsFromString('--expose-gc');
    collector = runInNewContext('gc') as () => void;
  }
  collector();
}
