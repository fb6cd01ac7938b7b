import { QueryFailedError } from 'typeorm';

/**
 * What the machine may refuse a studio:
 * `full` no room on the disk, `busy` another program holds the file, `gone` the file was moved, removed or replaced,
 * `read-only` it may not be written, `io` the disk fails, `damaged` its bytes are not a studio any more.
 */
export type StorageFault = 'full' | 'busy' | 'gone' | 'read-only' | 'io' | 'damaged';

const SAYS: Record<StorageFault, [message: string, remedy: string]> = {
  full: ['The studio’s disk is full: this was not saved.', 'Free some space on it. Nothing saved before is lost.'],
  busy: [
    'Another program holds the studio file: this was not saved.',
    'Close the program that has it open, then try again.',
  ],
  gone: [
    'The studio file is not where it was opened: it was moved, removed or replaced. Nothing is being saved.',
    'Put the folder back, or stop the server and start it on the right one.',
  ],
  'read-only': ['The studio file is read-only: this was not saved.', 'Give this user write access to its folder.'],
  io: ['The studio’s disk reports errors: this was not saved.', 'Check the disk, then restart the server.'],
  damaged: [
    'The studio file is damaged: this could not be done.',
    'Stop the server, run it with --check, and put a backup from its folder “backups” in its place.',
  ],
};

/** The machine failed, not the request: it may be tried again. */
export class StorageError extends Error {
  override readonly name = 'StorageError';
  readonly remedy: string;

  constructor(
    readonly fault: StorageFault,
    options?: ErrorOptions,
  ) {
    super(SAYS[fault][0], options);
    this.remedy = SAYS[fault][1];
  }

  get code(): string {
    return `storage-${this.fault}`;
  }
}

/** Result codes of SQLite (https://www.sqlite.org/rescode.html), extended ones by how they begin. */
const FAULTS: [begins: string, fault: StorageFault][] = [
  ['SQLITE_FULL', 'full'],
  ['SQLITE_BUSY', 'busy'],
  ['SQLITE_LOCKED', 'busy'],
  ['SQLITE_READONLY_DBMOVED', 'gone'],
  ['SQLITE_READONLY', 'read-only'],
  ['SQLITE_CANTOPEN', 'read-only'],
  ['SQLITE_PERM', 'read-only'],
  ['SQLITE_IOERR', 'io'],
  ['SQLITE_CORRUPT', 'damaged'],
  ['SQLITE_NOTADB', 'damaged'],
  ['ENOSPC', 'full'],
  ['EDQUOT', 'full'],
  ['EROFS', 'read-only'],
];

/** The fault behind an error of the database; null where the error is no fault of the machine. */
export function storageFaultOf(error: unknown): StorageFault | null {
  if (error instanceof StorageError) return error.fault;
  const cause = error instanceof QueryFailedError ? (error.driverError as unknown) : error;
  const code = (cause as { code?: unknown } | null)?.code;
  if (typeof code !== 'string') return null;
  return FAULTS.find(([begins]) => code.startsWith(begins))?.[1] ?? null;
}

/** The error as a {@link StorageError} where the machine failed, else as it is. */
export function asStorageError(error: unknown): unknown {
  const fault = storageFaultOf(error);
  return fault === null || error instanceof StorageError ? error : new StorageError(fault, { cause: error });
}
