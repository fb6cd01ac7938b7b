import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { noisePng } from './pictures.ts';
import { Studio } from './studio.ts';
import { Chance, saysMachine, times, type Extent, type Trial } from './trial.ts';

/** Bytes of the studio file are damaged: sources come back as they were or are said to be damaged, never wrong. */
export async function damagedDatabase(extent: Extent): Promise<Trial> {
  const trial: Trial = { what: 'bytes of the database damaged', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const chance = new Chance(extent.seed + 5);
  const whole = new Studio();
  await whole.start();
  const stored = new Map<string, Buffer>();
  for (let i = 0; i < 12; i++) {
    const bytes = await noisePng(chance, 60);
    const { json } = await whole.bringIn(bytes);
    stored.set(json.sha256 as string, bytes);
    await whole.newPiece(`Piece ${i}`, json.sha256 as string);
  }
  await whole.stop();
  const file = readFileSync(join(whole.folder, 'studio.sqlite'));
  let said = 0;
  let stayedOut = 0;
  for (let round = 0; round < times(200, extent); round++) {
    const folder = join(mkdtempSync(join(tmpdir(), 'lithe-sieve-damaged-')), 'studio');
    mkdirSync(folder);
    copyFileSync(join(whole.folder, 'studio.sqlite'), join(folder, 'studio.sqlite'));
    const bad = Buffer.from(file);
    const from = 100 + chance.below(bad.length - 100);
    const length = chance.next() < 0.5 ? 1 : 1 + chance.below(2000);
    for (let i = from; i < Math.min(bad.length, from + length); i++) bad[i] ^= 1 + chance.below(255);
    writeFileSync(join(folder, 'studio.sqlite'), bad);
    const studio = new Studio(folder);
    if (await studio.start()) {
      for (const [sha256, bytes] of stored) {
        const answer = await studio.get(`/sources/${sha256}/bytes`);
        if (answer.hung) trial.hangs++;
        if (answer.status === 200 && !answer.bytes.equals(bytes)) trial.lost++;
        if (answer.status >= 500) {
          if (saysMachine(answer.json)) said++;
          else trial.errors++;
        }
      }
      const list = await studio.get('/pieces');
      if (list.hung) trial.hangs++;
      if (list.status >= 500 && !saysMachine(list.json)) trial.errors++;
      await studio.kill();
    } else if (/"level":60/.test(studio.printed) && /damaged/.test(studio.printed)) stayedOut++;
    else trial.errors++;
    rmSync(join(folder, '..'), { recursive: true, force: true });
    trial.tries++;
  }
  whole.remove();
  trial.seen = `${said} answers said that bytes are damaged, ${stayedOut} starts refused in words`;
  return trial;
}
