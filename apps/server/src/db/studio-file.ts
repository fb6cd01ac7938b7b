import { statSync } from 'node:fs';

/** Device and node of a file; null where it is not there. */
function identityOf(path: string): string | null {
  const found = statSync(path, { bigint: true, throwIfNoEntry: false });
  return found ? `${found.dev}:${found.ino}` : null;
}

/**
 * Whether the files behind an open connection are still those at their paths. A file that was removed or replaced goes
 * on being written by the process that has it open, and is gone with the process.
 */
export class StudioFile {
  private readonly known: Map<string, string>;

  /** @param path - Of the database; its write-ahead log lies beside it for as long as a connection is open. */
  constructor(path: string) {
    this.known = new Map();
    for (const file of [path, `${path}-wal`]) {
      const identity = identityOf(file);
      if (identity) this.known.set(file, identity);
    }
  }

  isThere(): boolean {
    for (const [file, identity] of this.known) if (identityOf(file) !== identity) return false;
    return true;
  }
}
