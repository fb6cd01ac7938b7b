/** An error that a person should read, with the status it is answered with. Anything else is a bug of ours. */
export class AppError extends Error {
  override readonly name = 'AppError';

  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

export function notFound(what: string): AppError {
  return new AppError(404, 'not-found', `This ${what} is not here.`, 'It may have been deleted; go back to the Stock.');
}
