/** Questions to a worker, each with a number that its answer names. */
export class Asked<T> {
  private turn = 0;
  private readonly waiting = new Map<number, (answer: T | null) => void>();

  /** @param send - Sends the question. */
  ask(send: (turn: number) => void): Promise<T | null> {
    const turn = ++this.turn;
    return new Promise((resolve) => {
      this.waiting.set(turn, resolve);
      send(turn);
    });
  }

  answer(turn: number, answer: T | null): void {
    this.waiting.get(turn)?.(answer);
    this.waiting.delete(turn);
  }

  /** Nobody answers any more: null to all. */
  giveUp(): void {
    for (const turn of [...this.waiting.keys()]) this.answer(turn, null);
  }
}
