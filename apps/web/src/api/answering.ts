/** A request that waits so long makes the page ask whether the server answers at all. */
const ASK_AFTER_MS = 4000;
/** What does not answer so small a request by then does not answer. */
const ANSWER_MS = 4000;
const AGAIN_MS = 2000;

/**
 * Tells a server that is busy from one that is frozen or unplugged: while a request waits, a small one is sent beside it.
 * That a server does not answer is noticed within ten seconds, whatever patience the request itself has.
 */
class Answering {
  private waiting = 0;
  private silent = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private onChange: (silent: boolean) => void = () => undefined;

  whenChanged(handler: (silent: boolean) => void): void {
    this.onChange = handler;
  }

  /** A request was sent. @returns is called when its answer began, or it failed. */
  sent(): (answered: boolean) => void {
    this.waiting++;
    this.timer ??= setTimeout(() => void this.ask(), ASK_AFTER_MS);
    let open = true;
    return (answered) => {
      if (!open) return;
      open = false;
      this.waiting--;
      if (answered) this.say(false);
      if (this.waiting === 0 && !this.silent) this.rest();
    };
  }

  private async ask(): Promise<void> {
    const answers = await fetch('/api/alive', { signal: AbortSignal.timeout(ANSWER_MS), cache: 'no-store' }).then(
      () => true,
      () => false,
    );
    this.say(!answers);
    this.timer = undefined;
    if (this.waiting > 0 || this.silent) this.timer = setTimeout(() => void this.ask(), AGAIN_MS);
  }

  private rest(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
  }

  private say(silent: boolean): void {
    if (silent === this.silent) return;
    this.silent = silent;
    this.onChange(silent);
  }
}

export const answering = new Answering();
