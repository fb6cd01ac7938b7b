import { LIMITS } from '@lithe-sieve/core';
import type { StoredMesh, StoredSource } from '@lithe-sieve/contract';
import { shallowRef, triggerRef } from 'vue';
import { ApiError } from '../../api/http';
import { uploadMesh, uploadSource } from '../../api/sources.api';
import { makeId } from '../../document/ids';

/** One file on its way in. */
export interface Arrival {
  id: string;
  fileName: string;
  state: 'waiting' | 'sending' | 'reading' | 'done' | 'failed';
  /** Share that is sent, 0–1. */
  progress: number;
  message: string;
  remedy: string;
  abort: AbortController;
}

type Upload<T> = (file: File, onProgress: (share: number) => void, signal: AbortSignal) => Promise<T>;

const AT_ONCE = 2;

/** Files as they are sent, and those that failed until they are dismissed. A bad file never holds up the others. */
export function useArrivals() {
  const arrivals = shallowRef<Arrival[]>([]);

  function failAs(fileName: string, error: unknown): void {
    const { message, remedy = '' } = error as Error & { remedy?: string };
    fail(fileName, `${fileName}: ${message}`, remedy);
  }

  /** A file that did not get as far as being sent. */
  function fail(fileName: string, message: string, remedy: string): void {
    arrivals.value = [...arrivals.value, { ...newArrival(fileName), state: 'failed', message, remedy }];
  }

  /** Files for which a piece has no room are said by name; the others come in. */
  function sayNoRoom(pieceName: string, names: readonly string[]): void {
    if (names.length === 0) return;
    const message = `A piece holds ${LIMITS.sources} sources. There was no room in “${pieceName}” for ${names.join(', ')}.`;
    fail(names[0], message, 'Remove a source first, or drop them on the Stock as separate pieces.');
  }

  /** Sends files, a few at once; resolves to null for one that failed, which then says why. */
  function sender(): (file: File) => Promise<StoredSource | null> {
    const lanes: Promise<unknown>[] = Array.from({ length: AT_ONCE }, () => Promise.resolve());
    let next = 0;
    return (file) => {
      const lane = next++ % AT_ONCE;
      const mine = lanes[lane].then(() => sendOne(file, uploadSource));
      lanes[lane] = mine;
      return mine;
    };
  }

  /** A mesh; null where it failed, as above. */
  const sendMesh = (file: File): Promise<StoredMesh | null> => sendOne(file, uploadMesh);

  async function sendOne<T>(file: File, upload: Upload<T>): Promise<T | null> {
    const arrival = newArrival(file.name);
    arrivals.value = [...arrivals.value, arrival];
    const change = (values: Partial<Arrival>) => {
      Object.assign(arrival, values);
      triggerRef(arrivals);
    };
    try {
      if (file.size > LIMITS.fileBytes) {
        const limit = Math.round(LIMITS.fileBytes / 1024 / 1024);
        throw new ApiError(413, 'too-large', `${file.name}: the file is over ${limit} MB.`, 'Save it smaller.');
      }
      const stored = await upload(
        file,
        (progress) => change({ progress, state: progress < 1 ? 'sending' : 'reading' }),
        arrival.abort.signal,
      );
      dismiss(arrival.id);
      return stored;
    } catch (error) {
      const { message, remedy } =
        error instanceof ApiError ? error : { message: `${file.name}: ${String(error)}`, remedy: '' };
      change({ state: 'failed', message, remedy });
      return null;
    }
  }

  function dismiss(id: string): void {
    arrivals.value = arrivals.value.filter((a) => a.id !== id);
  }

  return { arrivals, failAs, sayNoRoom, sender, sendMesh, dismiss };
}

function newArrival(fileName: string): Arrival {
  const abort = new AbortController();
  return { id: makeId(), fileName, state: 'sending', progress: 0, message: '', remedy: '', abort };
}
