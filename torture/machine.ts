import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, renameSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import BetterSqlite3 from 'better-sqlite3';
import { noisePng } from './pictures.ts';
import { Studio } from './studio.ts';
import { Chance, saysMachine, times, type Extent, type Trial } from './trial.ts';

const DISK_MB = 24;
const SHIFTED_CLOCK = fileURLToPath(new URL('./shifted-clock.mjs', import.meta.url));

/** Changes of one piece, one after the other, each held to what was answered. */
class Edits {
  revision = 1;
  cutoff = 0.5;
  private count = 0;

  constructor(
    private readonly studio: Studio,
    readonly id: string,
    private readonly trial: Trial,
  ) {}

  static async begin(studio: Studio, chance: Chance, trial: Trial): Promise<Edits> {
    const { json } = await studio.bringIn(await noisePng(chance));
    return new Edits(studio, await studio.newPiece('Piece', json.sha256 as string), trial);
  }

  /** @returns the status. One that is not taken must say that the machine failed. */
  async one(): Promise<number> {
    const to = ((this.count++ * 37) % 1000) / 1000;
    const edit = `edit-${this.count}-${this.id}`.slice(0, 40);
    const { status, json, hung } = await this.studio.cutoff(this.id, this.revision, this.cutoff, to, edit);
    if (hung) this.trial.hangs++;
    if (status === 200) Object.assign(this, { revision: json.revision as number, cutoff: to });
    else if (status >= 500 && !saysMachine(json)) this.trial.errors++;
    return status;
  }

  /** After a start: what was answered is there. */
  async verify(): Promise<void> {
    const { status, json } = await this.studio.get(`/pieces/${this.id}`);
    if (status !== 200 || json.revision !== this.revision || json.doc.material.cutoff !== this.cutoff)
      this.trial.lost++;
  }
}

/** A disk that fills up and is cleared again, with refused requests in between. */
export async function fullDisk(extent: Extent): Promise<Trial> {
  const trial: Trial = { what: 'disk full, then cleared', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const disk = mkdtempSync(join(tmpdir(), 'lithe-sieve-disk-'));
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', disk]).status !== 0) {
    rmSync(disk, { recursive: true });
    return { ...trial, seen: 'not tried: no disk may be mounted here' };
  }
  const studio = new Studio(join(disk, 'studio'));
  try {
    const chance = new Chance(extent.seed + 1);
    await studio.start();
    const edits = await Edits.begin(studio, chance, trial);
    let refused = 0;
    for (let round = 0; round < times(60, extent); round++) {
      const { bavail, bsize } = statfsSync(disk);
      writeFileSync(join(disk, 'ballast'), Buffer.alloc(Math.max(0, bavail * bsize - chance.below(3) * 4096)));
      for (let i = 0; i < 12; i++) if ((await edits.one()) !== 200) refused++;
      await studio.bringIn(await noisePng(chance, 200));
      rmSync(join(disk, 'ballast'));
      await studio.call('POST', `/api/pieces/${edits.id}/edits`, { kind: 'undo', baseRevision: 999_999 });
      for (let i = 0; i < 5; i++) if ((await edits.one()) !== 200) trial.lost++; // there is room again
      if (round % 4 === 3) {
        await (chance.next() < 0.5 ? studio.stop() : studio.kill());
        await studio.start();
      }
      await edits.verify();
      trial.tries++;
    }
    trial.seen = `${refused} changes refused in words while it was full, taken after`;
  } finally {
    await studio.kill();
    execFileSync('umount', [disk]);
    rmSync(disk, { recursive: true, force: true });
  }
  return trial;
}

/** Another program holds the studio's lock for up to two seconds. */
export async function locks(extent: Extent): Promise<Trial> {
  const trial: Trial = { what: 'another program locks the file', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const chance = new Chance(extent.seed + 2);
  const studio = new Studio();
  await studio.start();
  const edits = await Edits.begin(studio, chance, trial);
  const other = new BetterSqlite3(join(studio.folder, 'studio.sqlite'));
  let refused = 0;
  for (let round = 0; round < times(50, extent); round++) {
    other.exec(chance.next() < 0.5 ? 'BEGIN IMMEDIATE' : 'BEGIN EXCLUSIVE');
    const letGo = new Promise<void>((resolve) =>
      setTimeout(() => {
        other.exec('ROLLBACK');
        resolve();
      }, chance.below(2000)),
    );
    if ((await edits.one()) !== 200) refused++;
    await letGo;
    trial.tries++;
  }
  other.close();
  await studio.kill();
  await studio.start();
  await edits.verify();
  await studio.stop();
  studio.remove();
  trial.seen = `${refused} refused, all others waited the lock out`;
  return trial;
}

/** The folder is moved away and back; a second server is started on it. */
export async function folders(extent: Extent): Promise<Trial> {
  const trial: Trial = {
    what: 'folder moved away and back; a second server on it',
    tries: 0,
    lost: 0,
    hangs: 0,
    errors: 0,
    seen: '',
  };
  const root = mkdtempSync(join(tmpdir(), 'lithe-sieve-moved-'));
  const chance = new Chance(extent.seed + 3);
  const studio = new Studio(join(root, 'studio'));
  await studio.start();
  const edits = await Edits.begin(studio, chance, trial);
  for (let round = 0; round < times(40, extent); round++) {
    renameSync(studio.folder, join(root, 'away'));
    if (chance.next() < 0.5) mkdirSync(studio.folder);
    for (let i = 0; i < 3; i++) if ((await edits.one()) === 200) trial.lost++; // answered for what is not there
    rmSync(studio.folder, { recursive: true, force: true });
    renameSync(join(root, 'away'), studio.folder);
    if ((await edits.one()) !== 200) trial.lost++;
    const second = new Studio(studio.folder);
    if ((await second.start()) || !second.printed.includes(studio.address)) trial.lost++;
    await second.kill();
    if (round % 5 === 4) {
      await studio.kill();
      await studio.start();
    }
    await edits.verify();
    trial.tries++;
  }
  await studio.stop();
  rmSync(root, { recursive: true, force: true });
  trial.seen = 'no change taken while it was away; the second server named the address of the first';
  return trial;
}

/** The clock jumps by years between starts: order comes from counting. */
export async function clock(extent: Extent): Promise<Trial> {
  const trial: Trial = { what: 'clock set back and forth', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const chance = new Chance(extent.seed + 4);
  const studio = new Studio();
  let edits: Edits | null = null;
  let newest = '';
  for (let round = 0; round < times(40, extent); round++) {
    const shift = String((chance.below(40) - 20) * 365 * 24 * 3600 * 1000);
    await studio.start([], { NODE_OPTIONS: `--import ${SHIFTED_CLOCK}`, CLOCK_SHIFT_MS: shift });
    edits ??= await Edits.begin(studio, chance, trial);
    await edits.verify();
    const latest = (await studio.get(`/pieces/${edits.id}/hand-offs/latest`)).json as { id: string } | null;
    if (newest && latest?.id !== newest) trial.lost++;
    await edits.one();
    const started = await studio.call('POST', `/api/pieces/${edits.id}/hand-offs`, { revision: edits.revision });
    newest = started.json?.id as string;
    let state = '';
    for (let i = 0; i < 400 && state !== 'done'; i++) {
      await new Promise((resolve) => setTimeout(resolve, 25));
      state = (await studio.get(`/jobs/${newest}`)).json?.state as string;
    }
    if (state !== 'done') trial.hangs++;
    await studio.stop();
    trial.tries++;
  }
  studio.remove();
  trial.seen = 'the newest hand-off was always the one that was started last';
  return trial;
}
