import { together, type Stale } from './stale';

/**
 * When a view that may wait is drawn while those that go first change too: at once where that is quick; else once
 * changes pause, and while they go on, as often as leaves most of the time to what computes them.
 */
export class Pace {
  /** It has waited long enough, even where the others go on changing. */
  private due = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** What changed while it waits. */
  private part: Stale | undefined;
  /** What it cost when it was drawn last, and when that was. */
  private ms = Infinity;
  private drawnAt = -Infinity;
  /** Whether it shows the piece: its first picture comes right after that of the others. */
  private seen = false;

  get waits(): boolean {
    return !this.due && (!this.seen || this.ms > SLOW_MS);
  }

  get isSlow(): boolean {
    return this.ms > SLOW_MS;
  }

  /** When it was drawn last, milliseconds of `performance.now`. */
  get lastDrawn(): number {
    return this.drawnAt;
  }

  /** What changed while it waited, now that it is drawn anyway: it waits no longer. */
  take(): Stale | undefined {
    const { part } = this;
    clearTimeout(this.timer);
    this.timer = this.part = undefined;
    return part;
  }

  /** @param draw - Asks for it to be drawn, with what changed since. */
  later(part: Stale, draw: (part: Stale) => void): void {
    const known = this.seen && this.ms < Infinity;
    const due = known ? this.drawnAt + SHARE * this.ms - performance.now() : 0;
    this.part = together(this.part, part);
    clearTimeout(this.timer);
    this.timer = setTimeout(
      () => {
        const changed = this.part ?? null;
        this.timer = this.part = undefined;
        this.due = true;
        draw(changed);
      },
      Math.max(0, Math.min(due, PAUSE_MS)),
    );
  }

  drawn(ms: number): void {
    this.due = false;
    this.seen = true;
    this.drawnAt = performance.now();
    this.ms = ms;
  }

  /** Another piece, or none. */
  forget(): void {
    this.take();
    this.due = this.seen = false;
  }
}

const SLOW_MS = 40;
/** After the last change. */
const PAUSE_MS = 150;
/** Times as long as it takes there are between its pictures. */
const SHARE = 4;
