import { constants, type BigIntStats } from 'node:fs';
import { lstat, open, readdir, readlink, realpath, stat, type FileHandle } from 'node:fs/promises';
import { join, sep } from 'node:path';

/** Something outside of the folders that may be read. */
export class OutsideError extends Error {
  override readonly name = 'OutsideError';
}

/** A file or folder that is open: what is read through it is what was looked at, whatever its path means meanwhile. */
export interface Opened {
  handle: FileHandle;
  stats: BigIntStats;
  /** Its true path when it was opened. */
  real: string;
}

/**
 * Opens what lies at a path, and then looks where that really lies: a path that is resolved first and opened after may
 * have become a link in between. A pipe or device is opened without waiting for its other end.
 *
 * @param allowed - True paths of folders.
 * @throws OutsideError, and what the system says (ENOENT, EACCES …).
 */
export async function openInside(path: string, allowed: readonly string[]): Promise<Opened> {
  const handle = await open(path, constants.O_RDONLY | constants.O_NONBLOCK);
  try {
    const stats = await handle.stat({ bigint: true });
    const real = await truePathOf(handle, stats, path);
    if (real === null || !isInside(real, allowed)) throw new OutsideError(`${path} is not in an allowed folder.`);
    return { handle, stats, real };
  } catch (error) {
    await handle.close();
    throw error;
  }
}

/** Where an open file lies. Linux says it of the handle itself; elsewhere the path must lead to the same file still. */
async function truePathOf(handle: FileHandle, { dev, ino }: BigIntStats, path: string): Promise<string | null> {
  const own = await readlink(`/proc/self/fd/${handle.fd}`).catch(() => null);
  if (own !== null) return own;
  const real = await realpath(path);
  const now = await stat(real, { bigint: true });
  return now.dev === dev && now.ino === ino ? real : null;
}

export function isInside(real: string, allowed: readonly string[]): boolean {
  return allowed.some((folder) => real === folder || real.startsWith(folder.endsWith(sep) ? folder : folder + sep));
}

/** What lies in a folder that is open: names that vanish meanwhile are left out, links are not followed. */
export async function listOpened({ handle, real }: Opened): Promise<{ name: string; stats: BigIntStats }[]> {
  const own = `/proc/self/fd/${handle.fd}`;
  const folder = (await readlink(own).catch(() => null)) === null ? real : own;
  const found = await Promise.all(
    (await readdir(folder)).map(async (name) => {
      const stats = await lstat(join(folder, name), { bigint: true }).catch(() => null);
      return stats ? [{ name, stats }] : [];
    }),
  );
  return found.flat();
}

/** What something is that is no plain file; null for a file. */
export function kindOf(stats: BigIntStats): string | null {
  if (stats.isFile()) return null;
  if (stats.isDirectory()) return 'a folder';
  if (stats.isFIFO()) return 'a named pipe';
  if (stats.isSocket()) return 'a socket';
  return stats.isBlockDevice() || stats.isCharacterDevice() ? 'a device' : 'something else';
}
