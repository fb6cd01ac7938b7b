import { expect, test } from '@jest/globals';
import { SieveError, toPlainError } from '@lithe-sieve/core';
import { valueAskedFor, valueNeeded, valueOf } from '../src/engine/answered';
import type { Answer } from '../src/workers/types';
import { answer } from '../src/workers/answer';

test('an error keeps its code and remedy from where it was thrown to whom it is shown', async () => {
  const refused = await answer(() => {
    throw new SieveError('too-large', 'It is 20000 texels wide.', 'Make it smaller.');
  });
  const plain = { code: 'too-large', message: 'It is 20000 texels wide.', remedy: 'Make it smaller.' };
  for (const read of [valueOf, valueNeeded]) {
    let caught: unknown;
    try {
      read(refused);
    } catch (error) {
      caught = error;
    }
    expect(toPlainError(caught)).toEqual(plain);
  }
});

test('what was overtaken is nothing, or a failure where it is needed', async () => {
  const overtaken = await answer(() => {
    throw new SieveError('cancelled', 'A newer request came.');
  });
  expect(valueOf(overtaken)).toBeNull();
  expect(() => valueNeeded(overtaken)).toThrow('Another change came first.');
  expect(valueNeeded(await answer(() => 7))).toBe(7);
  expect(toPlainError(Object.assign(new Error('no such file'), { code: 'ENOENT' })).code).toBe('internal'); // no error of ours
});

test('what a change overtook is asked again; what is overtaken for ever, or fails, is an error with a remedy', async () => {
  const answers: Answer<{ bytes: number }>[] = [null, null, { ok: true, value: { bytes: 7 } }];
  await expect(valueAskedFor(() => Promise.resolve(answers.shift()!))).resolves.toEqual({ bytes: 7 });
  expect(answers).toEqual([]);
  await expect(valueAskedFor(() => Promise.resolve(null))).rejects.toMatchObject({ code: 'cancelled' });
  let asked = 0;
  const failing = () => {
    asked++;
    return Promise.resolve({ ok: false as const, error: { code: 'unsupported', message: 'No.', remedy: 'Another.' } });
  };
  await expect(valueAskedFor(failing)).rejects.toMatchObject({ code: 'unsupported', remedy: 'Another.' });
  expect(asked).toBe(1);
});
