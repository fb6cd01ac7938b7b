/** What is done while nothing changes, in steps as short as a frame where graphics are quick. */
export class Rest {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private frame = 0;

  /** @param step - Returns whether there is more to do. */
  constructor(private readonly step: () => boolean) {}

  /** After a pause. */
  begin(): void {
    this.end();
    this.timer = setTimeout(() => this.go(), PAUSE_MS);
  }

  end(): void {
    clearTimeout(this.timer);
    cancelAnimationFrame(this.frame);
  }

  private go(): void {
    const until = performance.now() + STEP_MS;
    let more = true;
    while (more && performance.now() < until) more = this.step();
    if (more) this.frame = requestAnimationFrame(() => this.go());
  }
}

const PAUSE_MS = 300;
const STEP_MS = 10;
