import type { FollowEvent } from '@lithe-sieve/contract';
import { makeId } from '../document/ids';
import { FollowHub } from '../workers/follow-hub';
import type { FollowWish } from '../workers/follow.worker';

type Hear = (event: FollowEvent) => void;

let own: FollowHub | null = null;
let port: MessagePort | null = null;
const lock = `lithe-sieve follow ${makeId()}`;

/**
 * Tells of each save of the files until `stop`; comes back by itself after the server was away. All pages of the browser
 * share one stream; where it has no shared workers, the page has one of its own.
 */
export function followFiles(paths: readonly string[], hear: Hear): { stop(): void } {
  if (typeof SharedWorker === 'undefined') {
    const listener = { paths, hear };
    (own ??= new FollowHub()).add(listener);
    return { stop: () => own?.remove(listener) };
  }
  const mine = (port ??= connect());
  mine.onmessage = ({ data }: MessageEvent<FollowEvent>) => hear(data);
  const wish = () => mine.postMessage({ paths: [...paths] } satisfies FollowWish);
  const leave = () => mine.postMessage({ paths: [] } satisfies FollowWish);
  wish();
  window.addEventListener('pagehide', leave);
  window.addEventListener('pageshow', wish);
  return {
    stop() {
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('pageshow', wish);
      leave();
    },
  };
}

function connect(): MessagePort {
  const worker = new SharedWorker(new URL('../workers/follow.worker.ts', import.meta.url), {
    type: 'module',
    name: 'lithe-sieve follow',
  });
  const { port: opened } = worker;
  // sent once it is held: else the worker might get it first, and take a page that lives for gone
  void navigator.locks?.request(lock, () => {
    opened.postMessage({ lock } satisfies FollowWish);
    return new Promise(() => undefined);
  });
  return opened;
}
