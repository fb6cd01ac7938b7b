import type { FileHandle } from 'node:fs/promises';
import { basename } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { FollowEvent } from '@lithe-sieve/contract';
import { LIMITS } from '@lithe-sieve/core';
import { StudioError } from '../../studio-error.ts';
import type { MeshesService } from '../meshes/meshes.service.ts';
import { tooLarge, type SourcesService } from '../sources/sources.service.ts';
import { assertFile, isOf, type FoldersService } from './folders.service.ts';
import type { Opened } from './open-inside.ts';

/**
 * Looking is cheap (20 µs), works on network drives and with programs that save by renaming, where watching does not.
 * A save shows after two looks at the same state, so that a file being written is not read half-way.
 */
const LOOK_EVERY_MS = 150;

/** Size, time and node of a file: what changes with a save. */
type State = string;

export class FollowService {
  constructor(
    private readonly folders: FoldersService,
    private readonly sources: SourcesService,
    private readonly meshes: MeshesService,
  ) {}

  /**
   * Tells the present version of a file, then each that is saved, until `signal` ends it. A file that vanishes or
   * cannot be read is reported as a problem, once, and goes on being looked at.
   */
  async follow(path: string, tell: (event: FollowEvent) => void, signal: AbortSignal): Promise<void> {
    let reported = '';
    let before = '';
    let saved = false;
    while (!signal.aborted) {
      const state = await this.stateOf(path).catch((error: unknown) => problemOf(error));
      if (typeof state !== 'string') {
        const key = `problem ${state.code}`;
        if (reported !== key) tell({ kind: 'problem', path, error: state });
        reported = key;
        saved = true;
      } else if (state === before && state !== reported) {
        reported = state;
        tell(await this.read(path, saved, signal));
        saved = true;
      }
      before = typeof state === 'string' ? state : '';
      await sleep(LOOK_EVERY_MS, undefined, { signal }).catch(() => undefined);
    }
  }

  private async stateOf(path: string): Promise<State> {
    const opened = await this.open(path);
    await opened.handle.close();
    const { size, mtimeNs, ino } = opened.stats;
    return `${size} ${mtimeNs} ${ino}`;
  }

  /** A file of a size that is read. */
  private async open(path: string): Promise<Opened> {
    const opened = await this.folders.open(path);
    try {
      assertFile(path, opened);
      if (opened.stats.size > LIMITS.fileBytes) throw tooLarge(basename(path));
      return opened;
    } catch (error) {
      await opened.handle.close();
      throw error;
    }
  }

  private async read(path: string, saved: boolean, signal: AbortSignal): Promise<FollowEvent> {
    try {
      const { handle } = await this.open(path);
      const file = await readAndClose(handle, signal);
      const bytes = new Uint8Array(new SharedArrayBuffer(file.length));
      bytes.set(file);
      const name = basename(path);
      if (isOf('meshes', name))
        return { kind: 'mesh', path, saved, mesh: await this.meshes.bringIn(name, bytes, signal, true) };
      return { kind: 'version', path, saved, source: await this.sources.bringIn(name, bytes, signal, true) };
    } catch (error) {
      return { kind: 'problem', path, error: problemOf(error) };
    }
  }
}

function problemOf(error: unknown): Extract<FollowEvent, { kind: 'problem' }>['error'] {
  if (error instanceof StudioError) return { code: error.code, message: error.message, remedy: error.remedy };
  const message = error instanceof Error ? error.message : String(error);
  return { code: 'unreadable', message: `The file cannot be read: ${message}`, remedy: 'May this user read it?' };
}

async function readAndClose(handle: FileHandle, signal: AbortSignal): Promise<Buffer> {
  try {
    return await handle.readFile({ signal });
  } finally {
    await handle.close();
  }
}
