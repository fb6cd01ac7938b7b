import { toPlainError, type PlainError } from '@lithe-sieve/core';
import type { Answer } from '../workers/types';

/** An error that came as an answer of a worker: its code and its remedy stay. */
export class AnsweredError extends Error implements PlainError {
  readonly code: string;
  readonly remedy: string;

  constructor({ code, message, remedy }: PlainError) {
    super(message);
    this.code = code;
    this.remedy = remedy;
  }
}

/** What was answered; null where a newer request overtook it. @throws AnsweredError */
export function valueOf<T>(answer: Answer<T>): T | null {
  if (answer && !answer.ok) throw new AnsweredError(answer.error);
  return answer?.value ?? null;
}

/** The same, where being overtaken is a failure too. @throws AnsweredError `cancelled` */
export function valueNeeded<T>(answer: Answer<T>): T {
  const overtaken = { code: 'cancelled', message: 'Another change came first.', remedy: 'Choose it again.' };
  if (!answer) throw new AnsweredError(overtaken);
  return valueOf(answer) as T;
}

/**
 * The same of a question that a change may overtake: it is asked again, since what was chosen while something is computed
 * is no mistake.
 *
 * @throws AnsweredError `cancelled` where changes overtake it again and again.
 */
export async function valueAskedFor<T extends object>(ask: () => Promise<Answer<T>>): Promise<T> {
  for (let times = 0; times < MOST_ASKED; times++) {
    const value = valueOf(await ask());
    if (value !== null) return value;
  }
  throw new AnsweredError({
    code: 'cancelled',
    message: 'Other changes came first, again and again.',
    remedy: 'Choose it again once they have ended.',
  });
}

const MOST_ASKED = 30;

/** What ended a computation, phrased for the caller. */
export function notComputed(error: unknown): PlainError {
  const { code, message, remedy } = toPlainError(error);
  return { code, message: `This could not be computed here: ${message}.`, remedy };
}
