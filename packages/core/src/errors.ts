/** What a caller may branch on. Adding a code is a contract change; rewording a message is not. */
export type SieveErrorCode =
  | 'empty-file'
  | 'unknown-format'
  | 'truncated'
  | 'corrupt'
  | 'too-large'
  | 'unsupported'
  | 'size-mismatch'
  | 'out-of-range'
  | 'missing-source'
  | 'missing-step'
  | 'missing-height'
  | 'missing-map'
  | 'missing-normals'
  | 'missing-strokes'
  | 'cancelled';

/** An error as it crosses threads and the wire. */
export interface PlainError {
  code: string;
  /** What happened, with what was found and expected. */
  message: string;
  /** What to do about it; empty where nothing can be done. */
  remedy: string;
}

/**
 * The only error core throws on purpose. Anything else thrown by core is a bug in core.
 * A class does not survive `postMessage`: send {@link toPlainError} of it.
 */
export class SieveError extends Error {
  override readonly name = 'SieveError';

  constructor(
    readonly code: SieveErrorCode,
    message: string,
    readonly remedy = '',
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

export function isSieveError(error: unknown, code?: SieveErrorCode): error is SieveError {
  return error instanceof SieveError && (code === undefined || error.code === code);
}

/** Any thrown value as a record; what has no code and remedy as ours have gets the code `internal`. */
export function toPlainError(error: unknown): PlainError {
  if (error instanceof Error) {
    const { code, remedy, message } = error as Error & Partial<PlainError>;
    if (typeof code === 'string' && typeof remedy === 'string') return { code, message, remedy };
  }
  return { code: 'internal', message: error instanceof Error ? error.message : String(error), remedy: '' };
}
