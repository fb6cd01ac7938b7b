import { realpath, stat } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join } from 'node:path';
import type { FolderList, Followable, Folders } from '@lithe-sieve/contract';
import { MESH_EXTENSIONS, READABLE_EXTENSIONS } from '@lithe-sieve/core';
import type { Database } from '../../db/database.ts';
import { AllowedFolder } from '../../db/entities/folder.ts';
import { StudioError } from '../../studio-error.ts';
import { isInside, kindOf, listOpened, openInside, OutsideError, type Opened } from './open-inside.ts';

const MOST_ENTRIES = 1000;

/**
 * The folders on this machine's disk that a person allowed. Nothing outside them is ever read: what is opened is looked
 * at where it really lies, so that neither `..` nor a link leads out.
 */
export class FoldersService {
  /** As the studio has them; followed files are looked at several times a second. */
  private remembered: Promise<string[]> | null = null;

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
      throw new StudioError(
        'forbidden',
        'not-from-here',
        'This server answers other machines too, so folders are not allowed from a page.',
        'Start it with --folder and the path.',
      );
    }
    const real = isAbsolute(path) ? await realpath(path).catch(() => null) : null;
    const found = real === null ? null : await stat(real).catch(() => null);
    if (real === null || !found?.isDirectory()) {
      throw new StudioError(
        'not-found',
        'no-folder',
        `${path} is not a folder on this machine.`,
        'Enter its full path, from the root.',
      );
    }
    await this.db.write((m) => m.upsert(AllowedFolder, { path: real }, ['path']));
    this.remembered = null;
    return this.list();
  }

  async remove(path: string): Promise<Folders> {
    await this.db.write((m) => m.delete(AllowedFolder, { path }));
    this.remembered = null;
    return this.list();
  }

  /** Files of a kind, and folders, by name; at most a thousand. */
  async look(path: string, of: Followable): Promise<FolderList> {
    const opened = await this.open(path);
    try {
      const entries = await listOpened(opened).catch(() => {
        throw new StudioError('not-found', 'no-folder', `${path} cannot be read as a folder.`, 'Choose another.');
      });
      const seen = entries.filter((e) => !e.name.startsWith('.')).sort((a, b) => a.name.localeCompare(b.name));
      const whole = (name: string) => join(opened.real, name);
      const files = seen
        .filter((e) => e.stats.isFile() && isOf(of, e.name))
        .map(({ name, stats: { size, mtime } }) => {
          return { name, path: whole(name), bytes: Number(size), modifiedAt: mtime.toISOString() };
        });
      const folders = seen.filter((e) => e.stats.isDirectory()).map((e) => whole(e.name));
      return { path: opened.real, folders: folders.slice(0, MOST_ENTRIES), files: files.slice(0, MOST_ENTRIES) };
    } finally {
      await opened.handle.close();
    }
  }

  /**
   * Opens a file or folder inside an allowed folder. Whoever calls closes it.
   *
   * @throws StudioError `forbidden` outside, `not-found` where it is not there.
   */
  async open(path: string): Promise<Opened> {
    const allowed = await this.allowed();
    if (!isAbsolute(path)) throw notThere(path);
    try {
      return await openInside(path, allowed);
    } catch (error) {
      if (error instanceof OutsideError) throw outside(path);
      const { code } = error as NodeJS.ErrnoException;
      if (code === 'ENXIO') throw notAFile(path, 'a socket or a device');
      if (code !== 'ENOENT' && code !== 'ENOTDIR') throw error;
      // whether something exists is said only of places that are allowed
      const folder = await realpath(dirname(path)).catch(() => null);
      if (!folder) throw notThere(path);
      if (!isInside(folder, allowed)) throw outside(path);
      throw new StudioError(
        'not-found',
        'vanished',
        `${basename(path)} is not there any more.`,
        'It is picked up again when the file is saved.',
      );
    }
  }

  private allowed(): Promise<string[]> {
    this.remembered ??= this.db
      .read((m) => m.find(AllowedFolder))
      .then(
        (rows) => [...new Set([...this.given, ...rows.map((r) => r.path)])].sort(),
        (error: unknown) => {
          this.remembered = null;
          throw error;
        },
      );
    return this.remembered;
  }
}

function notThere(path: string): StudioError {
  return new StudioError('not-found', 'no-file', `${path} is not there.`, 'Was its folder moved or renamed?');
}

function outside(path: string): StudioError {
  return new StudioError(
    'forbidden',
    'folder-not-allowed',
    `${path} is not in an allowed folder.`,
    'Allow its folder first.',
  );
}

function notAFile(path: string, kind: string): StudioError {
  return new StudioError('refused', 'not-a-file', `${basename(path)} is ${kind}, not a file.`, 'Choose a file.');
}

/** @throws StudioError `not-a-file` that says what it is. */
export function assertFile(path: string, { stats }: Opened): void {
  const kind = kindOf(stats);
  if (kind) throw notAFile(path, kind);
}

const EXTENSIONS: Record<Followable, readonly string[]> = { pictures: READABLE_EXTENSIONS, meshes: MESH_EXTENSIONS };

/** By the ending of its name. */
export function isOf(kind: Followable, name: string): boolean {
  return EXTENSIONS[kind].some((extension) => name.toLowerCase().endsWith(extension));
}
