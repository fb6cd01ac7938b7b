import { followEventSchema, type FollowEvent } from '@lithe-sieve/contract';
import { makeId } from '../document/ids';

/** One page, or one part of it, that listens. */
export interface Listener {
  paths: readonly string[];
  hear(event: FollowEvent): void;
}

const OPEN_AGAIN_MS = 2000;

/**
 * One stream to the server for everybody who listens. A browser keeps six connections to a server: a stream for each tab
 * would block the seventh tab and the saving of the first.
 */
export class FollowHub {
  private readonly listeners = new Set<Listener>();
  /** The last report of each file, for pages that come later. */
  private readonly last = new Map<string, FollowEvent>();
  private readonly id = makeId();
  private source: EventSource | null = null;
  private asked = '';
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** What is known already is sent at once. */
  add(listener: Listener): void {
    this.listeners.add(listener);
    for (const path of listener.paths) {
      const known = this.last.get(path);
      if (known) listener.hear(known.kind === 'problem' ? known : { ...known, saved: false });
    }
    this.refresh();
  }

  remove(listener: Listener): void {
    if (this.listeners.delete(listener)) this.refresh();
  }

  private refresh(): void {
    const paths = [...new Set([...this.listeners].flatMap((l) => l.paths))].sort();
    for (const path of this.last.keys()) if (!paths.includes(path)) this.last.delete(path);
    if (paths.length === 0) this.end();
    else if (!this.source) this.begin();
    else if (this.source.readyState === EventSource.OPEN) void this.ask(paths);
  }

  private begin(): void {
    const source = new EventSource(`/api/folders/follow/${this.id}`);
    this.source = source;
    source.onopen = () => {
      this.asked = ''; // the server may be another one
      this.refresh();
    };
    source.onmessage = ({ data }: MessageEvent<string>) => this.hear(followEventSchema.parse(JSON.parse(data)));
    source.onerror = () => {
      if (source.readyState === EventSource.CLOSED) this.later(() => this.begin()); // else it comes back by itself
    };
  }

  private end(): void {
    clearTimeout(this.timer);
    this.source?.close();
    this.source = null;
    this.asked = '';
  }

  private async ask(paths: readonly string[]): Promise<void> {
    const body = JSON.stringify({ paths });
    if (body === this.asked) return;
    this.asked = body;
    const headers = { 'Content-Type': 'application/json' };
    const answer = await fetch(`/api/folders/follow/${this.id}`, { method: 'PUT', body, headers }).catch(() => null);
    if (answer?.ok) return;
    this.asked = '';
    this.later(() => this.refresh());
  }

  private later(what: () => void): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.source && what(), OPEN_AGAIN_MS);
  }

  private hear(event: FollowEvent): void {
    this.last.set(event.path, event);
    for (const listener of this.listeners) if (listener.paths.includes(event.path)) listener.hear(event);
  }
}
