import type { Job } from '@lithe-sieve/contract';
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue';
import type { ApiError } from '../../api/http';
import { cancelJob, getJob, latestHandOff, startHandOff } from '../../api/handoffs.api';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';

const POLL_MS = 250;

/** The hand-off of a piece: started, watched, cancelled. Whatever it waits for is said, and can be ended. */
export function useHandOff(id: () => string) {
  const piece = usePiece();
  const engine = useEngine();
  const clip = useClip();
  const job = ref<Job | null>(null);
  const refused = ref<{ message: string; remedy: string } | null>(null);
  const running = computed(() => job.value?.state === 'waiting' || job.value?.state === 'running');

  let timer: ReturnType<typeof setTimeout> | undefined;
  let left = false;
  onScopeDispose(() => {
    left = true;
    clearTimeout(timer);
  });

  watch(
    id,
    async (wanted) => {
      const latest = await latestHandOff(wanted).catch(() => null);
      if (left || id() !== wanted) return;
      job.value = latest;
      if (running.value) void poll(); // it was begun before this page was left
    },
    { immediate: true },
  );

  /** What is waited for before the files are written; null: nothing. */
  const waiting = shallowRef<{ mine: symbol; reason: string } | null>(null);
  /** Something that the report cannot say. */
  const remark = ref('');

  async function write(): Promise<void> {
    if (running.value || waiting.value) return;
    refused.value = null;
    remark.value = '';
    const mine = Symbol('waiting');
    const isWanted = () => waiting.value?.mine === mine;
    waiting.value = { mine, reason: '' };
    try {
      if (!(await settled(mine))) return;
      const bench = await engine.fingerprints();
      const held = bench && clip.fingerprintOfMask();
      if (held) bench['mask'] = held;
      if (!bench && engine.failure) {
        remark.value = `The files are not compared with the Bench: ${engine.failure.message}`;
      }
      if (!isWanted()) return;
      job.value = await startHandOff(id(), { revision: piece.revision(), ...(bench ? { bench } : {}) });
      if (isWanted()) void poll();
      else await cancel();
    } catch (error) {
      refused.value = error as ApiError;
    } finally {
      if (isWanted()) waiting.value = null;
    }
  }

  /** The last change must be on the server before it is handed off. @returns false where the waiting was ended. */
  async function settled(mine: symbol): Promise<boolean> {
    while (!left && waiting.value?.mine === mine) {
      const reason = !piece.isSaved()
        ? 'Waiting until the last change is saved…'
        : engine.busy
          ? 'Waiting until the piece is computed in full…'
          : clip.busy
            ? 'Waiting until the mip levels are made…'
            : '';
      if (!reason) break;
      if (waiting.value.reason !== reason) waiting.value = { mine, reason };
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
    if (waiting.value?.mine === mine && waiting.value.reason !== '') waiting.value = { mine, reason: '' };
    return !left && waiting.value?.mine === mine;
  }

  async function poll(): Promise<void> {
    if (!job.value) return;
    try {
      job.value = await getJob(job.value.id);
    } catch (error) {
      refused.value = error as ApiError;
      if ((error as ApiError).status === 404) return; // else it is asked again: the server may be back
    }
    if (running.value && !left) timer = setTimeout(() => void poll(), POLL_MS);
  }

  async function cancel(): Promise<void> {
    try {
      if (job.value) job.value = await cancelJob(job.value.id);
    } catch (error) {
      refused.value = error as ApiError;
    }
  }

  return { job, running, waiting, remark, refused, write, cancel };
}
