import { FollowHub, type Listener } from './follow-hub';

/** What a page says: the files it wants to hear of (none: it leaves), or a lock that it holds as long as it lives. */
export type FollowWish = { paths: string[] } | { lock: string };

const hub = new FollowHub();

(globalThis as unknown as SharedWorkerGlobalScope).onconnect = ({ ports: [port] }) => {
  let listener: Listener | null = null;
  const wish = (paths: string[]) => {
    const before = listener;
    listener = paths.length > 0 ? { paths, hear: (event) => port.postMessage(event) } : null;
    if (listener) hub.add(listener); // before the old one goes, so that what both want goes on
    if (before) hub.remove(before);
  };
  port.onmessage = ({ data }: MessageEvent<FollowWish>) => {
    if ('paths' in data) wish(data.paths);
    else void navigator.locks.request(data.lock, () => wish([])); // granted when the page is gone, however it went
  };
};
