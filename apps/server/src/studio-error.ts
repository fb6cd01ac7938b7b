/** What kind of thing went wrong; http/ alone knows which status that is. */
export type ErrorKind =
  | 'malformed'
  | 'no-access'
  | 'forbidden'
  | 'not-found'
  | 'conflict'
  | 'too-large'
  | 'unsupported'
  | 'refused'
  | 'internal'
  | 'unavailable'
  | 'no-room';

/** An error that a person should read. Anything else is a bug of ours. */
export class StudioError extends Error {
  override readonly name = 'StudioError';

  constructor(
    readonly kind: ErrorKind,
    readonly code: string,
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

export function notFound(what: string): StudioError {
  return new StudioError(
    'not-found',
    'not-found',
    `This ${what} was not found.`,
    'It may have been deleted; go back to the Stock.',
  );
}
