import { StorageError } from './storage-error.ts';

/** A reason in a sentence, for who starts the program. */
export class StartError extends Error {
  override readonly name = 'StartError';
}

const REASONS: Record<string, string> = {
  EADDRINUSE: 'the port is already in use: choose another --port',
  EADDRNOTAVAIL: 'this machine has no such address: choose another --host',
  EACCES: 'this user may not do that: choose a port above 1023, or another folder',
  EMFILE: 'too few files may be open at once: raise the limit (ulimit -n 1024)',
  ENFILE: 'too many files are open on this machine',
  ENOSPC: 'the disk is full',
};

/** In a sentence, why the server does not start; a stack is for what we did not think of. */
export function whyItCannotStart(error: unknown): string {
  if (!(error instanceof Error)) return `cannot start: ${String(error)}`;
  if (error instanceof StorageError) return `cannot start: ${error.message} ${error.remedy}`;
  const { code, syscall } = error as NodeJS.ErrnoException;
  const reason = REASONS[code ?? ''];
  if (reason) return `cannot start: ${reason} (${error.message})`;
  const ours = error instanceof StartError || code === 'ERR_PARSE_ARGS_UNKNOWN_OPTION' || syscall !== undefined;
  return `cannot start: ${ours ? error.message : (error.stack ?? error.message)}`;
}
