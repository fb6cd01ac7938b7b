import { constants } from 'node:fs';
import { open, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { sha256Of } from '../../db/blobs.ts';
import { StudioError } from '../../studio-error.ts';

/** A file that was written, by its name and what was in it. */
export interface Put {
  name: string;
  sha256: string;
}
/** What a folder holds of a piece. */
export interface Held {
  revision: number;
  files: Put[];
}
/** Files that lie beside under other names, and those that go when they take their places. */
export interface Pending extends Held {
  drop: Put[];
}

const besideName = (name: string) => `.${name}.being-written`;

/**
 * Writes each file under another name beside its own, down to the disk. Nothing that a target looks at changes.
 *
 * @param held - What this piece put there before.
 * @throws StudioError `not-ours` where a file of such a name was not written by this piece, or was changed since; what the
 * system says where it cannot be written: then nothing is left.
 */
export async function putBeside(
  folder: string,
  files: readonly { name: string; bytes: Uint8Array }[],
  held: Held | null,
): Promise<Put[]> {
  const out = files.map(({ name, bytes }): Put => ({ name, sha256: sha256Of(bytes) }));
  for (const file of out) await assertOurs(folder, file, held);
  try {
    for (const { name, bytes } of files) {
      const handle = await open(join(folder, besideName(name)), 'w');
      try {
        await handle.writeFile(bytes);
        await handle.sync();
      } finally {
        await handle.close();
      }
    }
  } catch (error) {
    for (const { name } of files) await rm(join(folder, besideName(name)), { force: true }).catch(() => undefined);
    throw error;
  }
  return out;
}

/** Gives them their names, each at once; then what is not written any more goes, unless someone changed it. Goes on where it was stopped. */
export async function swapIn(folder: string, { files, drop }: Pending, held: Held | null): Promise<void> {
  const waiting: Put[] = [];
  for (const file of files) if (await isThere(join(folder, besideName(file.name)))) waiting.push(file);
  for (const file of waiting) await assertOurs(folder, file, held); // someone may have been there while nothing ran
  for (const { name } of waiting) await rename(join(folder, besideName(name)), join(folder, name));
  for (const file of drop) if (await isOurs(folder, file)) await rm(join(folder, file.name), { force: true });
  const handle = await open(folder, constants.O_RDONLY);
  try {
    await handle.sync(); // names are the folder's
  } catch {
    // not every system knows it of folders
  } finally {
    await handle.close();
  }
}

const isThere = (path: string) =>
  stat(path).then(
    () => true,
    () => false,
  );

async function isOurs(folder: string, { name, sha256 }: Put): Promise<boolean> {
  const bytes = await readFile(join(folder, name)).catch(() => null);
  return bytes !== null && sha256Of(bytes) === sha256;
}

/** What is there already, byte for byte, is nobody's loss. */
async function assertOurs(folder: string, file: Put, held: Held | null): Promise<void> {
  const { name } = file;
  if (!(await isThere(join(folder, name))) || (await isOurs(folder, file))) return;
  const own = held?.files.find((f) => f.name === name);
  if (own && (await isOurs(folder, own))) return;
  throw new StudioError(
    'conflict',
    'not-ours',
    own
      ? `${name} was changed in the folder since it was written.`
      : `${name} lies in the folder already, and was not written from here.`,
    'Move it away, or choose another folder or other names.',
  );
}
