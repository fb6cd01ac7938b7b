// From the click on a card of the Stock to the piece's picture on Sheet and Stand, and to the first that is drawn there:
// quiet, and with both cores busy.
import { Worker } from 'node:worker_threads';
import type { Page } from '@playwright/test';
import { clear, first, median, onPage, settled, timings } from './page.ts';

const PIECES = ['Sea-aster leaf', 'Pony’s mane', 'Crab net', 'Torn awning', 'Leaf with all its maps'];
const ROUNDS = 3;
const CORES = 2;

await onPage(
  async (page) => {
    await page.waitForTimeout(3000); // a person looks at the Stock first
    await measure(page, 'quiet');
    const busy = Array.from({ length: CORES }, () => new Worker('for (;;);', { eval: true }));
    await measure(page, `${CORES} cores busy`);
    for (const worker of busy) await worker.terminate();
  },
  ['--demo'],
);

async function measure(page: Page, how: string): Promise<void> {
  const seen: Record<'poster' | 'frame' | 'stand' | 'settled', number[]> = {
    poster: [],
    frame: [],
    stand: [],
    settled: [],
  };
  for (let round = 0; round < ROUNDS; round++) {
    for (const name of PIECES) {
      await clear(page);
      await page.getByRole('link', { name: `Open ${name}`, exact: true }).click();
      await settled(page);
      const list = await timings(page);
      const start = first(list, 'pointerdown');
      for (const what of ['frame', 'stand', 'settled'] as const) seen[what].push(first(list, what, start) - start);
      // of both views, where they are not drawn sooner
      const posters = list.filter((t) => t.name === 'poster' && t.at > start).map((t) => t.at - start);
      seen.poster.push(Math.min(Math.max(...posters, posters.length < 2 ? Infinity : 0), seen.stand.at(-1)!));
      await page.getByRole('link', { name: 'Stock', exact: true }).click();
      await page.waitForTimeout(2500);
    }
  }
  const said = (list: number[]) => `median ${median(list)}, worst ${Math.round(Math.max(...list))} ms`;
  console.log(
    `opening, ${how}: picture on both views ${said(seen.poster)}; drawn: Sheet ${said(seen.frame)}, Stand ${said(seen.stand)}; full size ${said(seen.settled)} (${PIECES.length} pieces, ${ROUNDS} times)`,
  );
}
