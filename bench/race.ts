/** A kernel of ours beside another library doing the same, or nearly the same, in the same run. */
export interface Race {
  name: string;
  ours: () => unknown;
  other?: string;
  theirs?: () => unknown;
  /** Milliseconds that are wanted. */
  wanted?: number;
}

/** Runs each in interleaved rounds and prints the medians of all but the first. */
export async function runRaces(races: readonly Race[], rounds = 6): Promise<void> {
  for (const race of races) {
    const ours: number[] = [];
    const theirs: number[] = [];
    for (let round = 0; round < rounds; round++) {
      const a = await timed(race.ours);
      const b = race.theirs ? await timed(race.theirs) : NaN;
      if (round > 0) {
        ours.push(a);
        theirs.push(b);
      }
    }
    const [a, b] = [median(ours), median(theirs)];
    const wanted = race.wanted ? ` (wanted ${race.wanted})` : '';
    const beside = race.theirs ? `${b.toFixed(0).padStart(6)}   ratio ${(a / b).toFixed(2)}` : '';
    console.log(
      `${race.name.padEnd(44)} ${a.toFixed(0).padStart(6)}${wanted}   ${(race.other ?? '').padEnd(22)} ${beside}`,
    );
  }
}

export async function timed(work: () => unknown): Promise<number> {
  const started = performance.now();
  await work();
  return performance.now() - started;
}

function median(values: number[]): number {
  return values.toSorted((a, b) => a - b)[values.length >> 1];
}
