import { toPlainError } from '@lithe-sieve/core';
import { inspect } from './inspect.ts';
import { summarise } from './summarise.ts';
import type { Task, TaskAnswer } from './tasks.ts';

/** What is rarely asked for is loaded when it is, so that a thread starts fast. */
async function perform(task: Task): Promise<unknown> {
  switch (task.kind) {
    case 'warm':
      return undefined;
    case 'inspect':
      return inspect(task);
    case 'summarise':
      return summarise(task);
    case 'hand-off':
      return (await import('./hand-off.ts')).handOff(task);
    case 'draw-demo':
      return (await import('./draw-demo.ts')).drawDemo(task);
  }
}

export default async function run(task: Task): Promise<TaskAnswer<unknown>> {
  try {
    return { ok: true, result: await perform(task) };
  } catch (error) {
    return { ok: false, error: toPlainError(error) };
  }
}
