import type { NextFunction, Request, Response } from 'express';
import type { Logger } from 'pino';
import { z } from 'zod';
import { DamagedFileError } from '../db/blobs.ts';
import { StorageError } from '../db/storage-error.ts';
import { StudioError, type ErrorKind } from '../studio-error.ts';
import type { PlainError } from '@lithe-sieve/core';

/** The status that each kind of error is answered with. */
const STATUS: Record<ErrorKind, number> = {
  malformed: 400,
  'no-access': 401,
  forbidden: 403,
  'not-found': 404,
  conflict: 409,
  'too-large': 413,
  unsupported: 415,
  refused: 422,
  internal: 500,
  unavailable: 503,
  'no-room': 507,
};

/**
 * Reads a body, a query or a path against its schema.
 *
 * @param kind - `refused` where it is a change that can never be taken: the page does not send it again.
 * @throws StudioError with the place named.
 */
export function parse<S extends z.ZodType>(
  schema: S,
  value: unknown,
  what: string,
  kind: 'malformed' | 'refused' = 'malformed',
): z.infer<S> {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  const place = issue.path.length > 0 ? ` at ${issue.path.join('.')}` : '';
  throw new StudioError(kind, 'bad-request', `The ${what} is not valid${place}: ${issue.message}`, '');
}

interface BodyParserError extends Error {
  type?: string;
  status?: number;
}

/** The one place where errors become HTTP. */
export function errorHandler(log: Logger) {
  return (error: unknown, request: Request, response: Response, next: NextFunction): void => {
    const known = answerTo(error);
    if (!known || known.status >= 500)
      log.error({ err: error, path: request.path }, known?.message ?? 'unexpected error');
    if (response.headersSent) {
      next(error);
      return;
    }
    const { status, code, message, remedy } = known ?? {
      status: 500,
      code: 'internal',
      message: 'The server had an internal error; nothing was changed.',
      remedy: 'Try again. If it happens again, see the server log.',
    };
    if (!request.complete) response.set('Connection', 'close'); // the rest of a refused body is not read
    response.status(status).json({ code, message, remedy });
  };
}

/** What is answered to an error that is known; null for a bug of ours. */
function answerTo(error: unknown): (PlainError & { status: number }) | null {
  const own = asStudioError(error);
  if (own) return { status: STATUS[own.kind], code: own.code, message: own.message, remedy: own.remedy };
  const { status } = error as BodyParserError;
  // what Express and its parsers refuse, a bad range among it
  if (status === undefined || status < 400 || status >= 500) return null;
  return { status, code: 'bad-request', message: 'The request is malformed.', remedy: '' };
}

function asStudioError(error: unknown): StudioError | null {
  if (error instanceof StudioError) return error;
  const { code, message, remedy } = error as { code: string; message: string; remedy: string };
  if (error instanceof StorageError)
    return new StudioError(error.fault === 'full' ? 'no-room' : 'unavailable', code, message, remedy);
  if (error instanceof DamagedFileError) return new StudioError('internal', code, message, remedy);
  const { type, status } = error as BodyParserError;
  if (type === 'entity.too.large') return new StudioError('too-large', 'too-large', 'The request is too large.', '');
  if (status !== STATUS.unsupported) return null;
  return new StudioError(
    'unsupported',
    'unsupported-encoding',
    `The request cannot be read: ${message}.`,
    'Send JSON in UTF-8.',
  );
}
