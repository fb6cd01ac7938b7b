import { toPlainError } from '@lithe-sieve/core';
import { handOff } from '@lithe-sieve/host';
import { backUp, compact } from './back-up.ts';
import { collect } from './collect.ts';
import { drawDemo } from './draw-demo.ts';
import { inspect } from './inspect.ts';
import { lookOver } from './look-over.ts';
import { readMesh } from './read-mesh.ts';
import { summarise } from './summarise.ts';
import { takeView } from './take-view.ts';
import type { Task, TaskAnswer } from './tasks.ts';

function perform(task: Task): Promise<unknown> {
  switch (task.kind) {
    case 'warm':
      return Promise.resolve();
    case 'inspect':
      return inspect(task);
    case 'read-mesh':
      return readMesh(task);
    case 'take-view':
      return takeView(task);
    case 'summarise':
      return summarise(task);
    case 'hand-off':
      return handOff(task, (share, doing) => task.progress?.postMessage({ share, doing }));
    case 'draw-demo':
      return drawDemo(task);
    case 'back-up':
      return backUp(task);
    case 'look-over':
      return lookOver(task);
    case 'compact':
      return compact(task);
  }
}

/** Held by a thread whose task has ended. */
const MUCH_BYTES = 64 * 1024 * 1024;
const COLLECTIONS = 4;
const COLLECT_AFTER_MS = 20;

export default async function run(task: Task): Promise<TaskAnswer<unknown>> {
  const answer = await answerTo(task);
  // the first collection finds what nothing holds, the next one has given it back
  for (let k = 0; k < COLLECTIONS && process.memoryUsage().arrayBuffers > MUCH_BYTES; k++) {
    await new Promise((resolve) => setTimeout(resolve, COLLECT_AFTER_MS));
    collect();
  }
  return answer;
}

async function answerTo(task: Task): Promise<TaskAnswer<unknown>> {
  try {
    return { ok: true, result: await perform(task) };
  } catch (error) {
    return { ok: false, error: toPlainError(error) };
  }
}
