/** What the benchmark listens for. Nothing is kept: without a listener an event costs some microseconds. */
export type TimingName = 'dropped' | 'edited' | 'view' | 'mask' | 'settled' | 'shown' | 'frame' | 'stand';

/**
 * @param edit - Number of the edit that this is or answers.
 * @param ms - How long it took, where that is the point.
 */
export function tellTiming(name: TimingName, edit = 0, ms = 0): void {
  window.dispatchEvent(new CustomEvent('lithe:timing', { detail: { name, at: performance.now(), edit, ms } }));
}
