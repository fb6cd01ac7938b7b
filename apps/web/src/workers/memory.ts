/** Shared memory is never detached: a detached buffer slows every later loop of its thread. */
export const allocate = (bytes: number) => new Uint8Array(new SharedArrayBuffer(bytes));
