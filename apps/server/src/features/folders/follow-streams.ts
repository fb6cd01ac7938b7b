import type { FollowEvent } from '@lithe-sieve/contract';
import { notFound } from '../../studio-error.ts';
import type { FollowService } from './follow.service.ts';

interface Stream {
  tell: (event: FollowEvent) => void;
  /** What ends the following of each file. */
  files: Map<string, AbortController>;
}

/**
 * One stream for all pages of a browser, which keeps six connections to a server and no more. What it follows is set
 * apart from it, so that it goes on when a page comes or goes.
 */
export class FollowStreams {
  private readonly streams = new Map<string, Stream>();

  constructor(private readonly follow: FollowService) {}

  /** Until `signal` ends it. An id that comes again takes the place of the one before. */
  open(id: string, tell: (event: FollowEvent) => void, signal: AbortSignal): void {
    this.close(id);
    const stream: Stream = { tell, files: new Map() };
    this.streams.set(id, stream);
    signal.addEventListener('abort', () => this.streams.get(id) === stream && this.close(id));
  }

  /** @throws StudioError `not-found` for a stream that is not open (any more): it is opened first. */
  set(id: string, paths: readonly string[]): void {
    const stream = this.streams.get(id);
    if (!stream) throw notFound('stream');
    const wanted = new Set(paths);
    for (const [path, ending] of stream.files) {
      if (wanted.has(path)) continue;
      ending.abort();
      stream.files.delete(path);
    }
    for (const path of wanted) {
      if (stream.files.has(path)) continue;
      const ending = new AbortController();
      stream.files.set(path, ending);
      void this.follow.follow(path, (event) => !ending.signal.aborted && stream.tell(event), ending.signal);
    }
  }

  private close(id: string): void {
    for (const ending of this.streams.get(id)?.files.values() ?? []) ending.abort();
    this.streams.delete(id);
  }
}
