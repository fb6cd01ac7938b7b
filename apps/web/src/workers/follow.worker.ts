import { FollowHub, type Listener } from './follow-hub';

/** What a page says: the files it wants to hear of (none: it leaves), and a lock that it holds as long as it lives. */
export interface FollowWish {
  paths: string[];
  lock?: string;
}

const hub = new FollowHub();

(globalThis as unknown as SharedWorkerGlobalScope).onconnect = ({ ports: [port] }) => {
  let listener: Listener | null = null;
  const leave = () => {
    if (listener) hub.remove(listener);
    listener = null;
  };
  port.onmessage = ({ data: { paths, lock } }: MessageEvent<FollowWish>) => {
    const before = listener;
    listener = paths.length > 0 ? { paths, hear: (event) => port.postMessage(event) } : null;
    if (listener) hub.add(listener); // before the old one goes, so that what both want goes on
    if (before) hub.remove(before);
    if (lock) void navigator.locks?.request(lock, leave); // granted when the page is gone, however it went
  };
};
