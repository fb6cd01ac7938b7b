/** What the benchmark listens for. Nothing is kept: without a listener an event costs some microseconds. */
export type TimingName = 'dropped' | 'edited' | 'view' | 'mask' | 'settled' | 'frame';

/** @param ms - How long it took on the main thread, where that is the point. */
export function tellTiming(name: TimingName, ms = 0): void {
  window.dispatchEvent(new CustomEvent('lithe:timing', { detail: { name, at: performance.now(), ms } }));
}
