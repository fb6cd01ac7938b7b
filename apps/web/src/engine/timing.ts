/** What the benchmark listens for. Nothing is kept: without a listener an event costs some microseconds. */
export type TimingName =
  'dropped' | 'edited' | 'view' | 'mask' | 'settled' | 'clipped' | 'shown' | 'frame' | 'stand' | 'poster' | 'proposed';

/**
 * @param turn - The turn that this asks for or answers.
 * @param ms - How long it took, where that is the point.
 */
export function tellTiming(name: TimingName, turn = 0, ms = 0): void {
  window.dispatchEvent(new CustomEvent('lithe:timing', { detail: { name, at: performance.now(), turn, ms } }));
}
