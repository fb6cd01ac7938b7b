import { statSync } from 'node:fs';
import { declaredSize, LIMITS } from '@lithe-sieve/core';
import { handedOffTexels } from '@lithe-sieve/host';
import type { Task } from './tasks.ts';

/** Milliseconds that a task may take beside what its texels come to; a busy machine takes several times as long as a quiet one. */
const START_MS = 30_000;
/** For decoding and looking at a texel: about eight times what it takes on one thread. */
const INSPECT_MS_PER_TEXEL = 400e-6;
/** For a byte of a mesh: text of twenty megabytes is read in about four seconds. */
const MESH_MS_PER_BYTE = 2e-3;
/** For a step over a texel, for writing it and for reading it back: slow steps take a third of this. */
const STEP_MS_PER_TEXEL = 4e-3;
/** For a step at the size of a summary. */
const SUMMARY_MS_PER_STEP = 2_000;
/** For a byte of the studio file, read and written: ten megabytes a second. */
const FILE_MS_PER_BYTE = 1e-4;

/**
 * Milliseconds beyond which a task is ended, reckoned by its work: several times what it takes, so that none holds a thread
 * for ever.
 */
export function timeOf(task: Task): number {
  switch (task.kind) {
    case 'inspect': {
      const { width, height } = sizeOf(task.bytes);
      return START_MS + width * height * INSPECT_MS_PER_TEXEL;
    }
    case 'read-mesh':
      return START_MS + task.bytes.length * MESH_MS_PER_BYTE;
    case 'summarise':
      return START_MS + task.doc.run.length * SUMMARY_MS_PER_STEP;
    case 'hand-off':
      return 4 * START_MS + (4 + task.doc.run.length) * handedOffTexels(task) * STEP_MS_PER_TEXEL;
    case 'back-up':
      return 20 * START_MS + bytesOf(task.from) * FILE_MS_PER_BYTE;
    case 'look-over':
    case 'compact':
      return 20 * START_MS + bytesOf(task.file) * FILE_MS_PER_BYTE;
    default:
      return 4 * START_MS;
  }
}

/** A file that was moved away has none: the task says so. */
const bytesOf = (file: string) => statSync(file, { throwIfNoEntry: false })?.size ?? 0;

function sizeOf(bytes: Uint8Array): { width: number; height: number } {
  try {
    return declaredSize(bytes);
  } catch {
    return { width: LIMITS.side, height: LIMITS.texels / LIMITS.side }; // the task says what is wrong with it
  }
}
