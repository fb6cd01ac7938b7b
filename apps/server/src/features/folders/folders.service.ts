import { readdir, realpath, stat } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join, sep } from 'node:path';
import type { FolderList, Folders } from '@lithe-sieve/contract';
import { READABLE_EXTENSIONS } from '@lithe-sieve/core';
import type { Database } from '../../db/database.ts';
import { AllowedFolder } from '../../db/entities.ts';
import { AppError } from '../../http/app-error.ts';

const MOST_ENTRIES = 1000;

/**
 * The folders on this machine's disk that a person allowed. Nothing outside them is ever read: every path is resolved
 * first, so that neither `..` nor a link leads out.
 */
export class FoldersService {
  /**
   * @param given - Allowed by the command line.
   * @param mayAdd - From the page too; not where other machines can reach the server.
   */
  constructor(
    private readonly db: Database,
    private readonly given: readonly string[],
    private readonly mayAdd: boolean,
  ) {}

  async list(): Promise<Folders> {
    return { folders: await this.allowed(), mayAdd: this.mayAdd };
  }

  async add(path: string): Promise<Folders> {
    if (!this.mayAdd) {
      throw new AppError(
        403,
        'not-from-here',
        'This server answers other machines too, so folders are not allowed from a page.',
        'Start it with --folder and the path.',
      );
    }
    const real = isAbsolute(path) ? await realpath(path).catch(() => null) : null;
    if (!real || !(await stat(real)).isDirectory()) {
      throw new AppError(
        404,
        'no-folder',
        `${path} is no folder on this machine.`,
        'Give its whole path, from the root.',
      );
    }
    await this.db.write((m) => m.upsert(AllowedFolder, { path: real }, ['path']));
    return this.list();
  }

  async remove(path: string): Promise<Folders> {
    await this.db.write((m) => m.delete(AllowedFolder, { path }));
    return this.list();
  }

  /** Pictures and folders, by name; at most a thousand. */
  async look(path: string): Promise<FolderList> {
    const real = await this.resolve(path);
    const entries = await readdir(real, { withFileTypes: true }).catch(() => {
      throw new AppError(404, 'no-folder', `${path} cannot be read as a folder.`, 'Choose another.');
    });
    const seen = entries.filter((e) => !e.name.startsWith('.')).sort((a, b) => a.name.localeCompare(b.name));
    const pictures = seen.filter((e) => e.isFile() && isPicture(e.name)).slice(0, MOST_ENTRIES);
    const files = await Promise.all(
      pictures.map(async ({ name }) => {
        const { size, mtime } = await stat(join(real, name));
        return { name, path: join(real, name), bytes: size, modifiedAt: mtime.toISOString() };
      }),
    );
    const folders = seen.filter((e) => e.isDirectory()).map((e) => join(real, e.name));
    return { path: real, folders: folders.slice(0, MOST_ENTRIES), files };
  }

  /**
   * The true path of a file or folder inside an allowed folder. Of a file that is not there (any more) the folder is
   * resolved, so that it can come back.
   *
   * @throws AppError 403 outside, 404 where not even the folder is there.
   */
  async resolve(path: string): Promise<string> {
    const real = await realpath(path).catch(async () => {
      const folder = await realpath(dirname(path)).catch(() => null);
      return folder && join(folder, basename(path));
    });
    if (!isAbsolute(path) || !real)
      throw new AppError(404, 'no-file', `${path} is not there.`, 'Was its folder moved or renamed?');
    const inside = (await this.allowed()).some((folder) => real === folder || real.startsWith(withEnd(folder)));
    if (!inside) {
      throw new AppError(403, 'folder-not-allowed', `${path} is in no allowed folder.`, 'Allow its folder first.');
    }
    return real;
  }

  private async allowed(): Promise<string[]> {
    const rows = await this.db.read((m) => m.find(AllowedFolder));
    return [...new Set([...this.given, ...rows.map((r) => r.path)])].sort();
  }
}

const withEnd = (folder: string) => (folder.endsWith(sep) ? folder : folder + sep);

function isPicture(name: string): boolean {
  return READABLE_EXTENSIONS.some((extension) => name.toLowerCase().endsWith(extension));
}
