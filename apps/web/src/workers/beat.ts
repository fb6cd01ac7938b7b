import { HEARTBEAT } from './shared-places';

/** Between heartbeats of a worker that waits. */
const BEAT_MS = 500;

/** Counts as long as this worker lives and looks up from its work. @param shared - With its page. */
export function beat(shared: Int32Array): void {
  setInterval(() => Atomics.add(shared, HEARTBEAT, 1), BEAT_MS);
}
