import type { NextFunction, Request, Response } from 'express';
import type { Logger } from 'pino';
import { z } from 'zod';
import { DamagedFileError } from '../db/blobs.ts';
import { StorageError } from '../db/storage-error.ts';
import { AppError } from './app-error.ts';

/** Reads a body, a query or a path against its schema. @throws AppError with the place named. */
export function parse<S extends z.ZodType>(schema: S, value: unknown, what: string, status = 400): z.infer<S> {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  const place = issue.path.length > 0 ? ` at ${issue.path.join('.')}` : '';
  throw new AppError(status, 'bad-request', `The ${what} is not valid${place}: ${issue.message}`, '');
}

interface BodyParserError extends Error {
  type?: string;
  status?: number;
}

/** The one place where errors become HTTP. */
export function errorHandler(log: Logger) {
  return (error: unknown, request: Request, response: Response, next: NextFunction): void => {
    const known = toAppError(error);
    if (!known || known.status >= 500)
      log.error({ err: error, path: request.path }, known?.message ?? 'unexpected error');
    if (response.headersSent) {
      next(error);
      return;
    }
    const { status, code, message, remedy } = known ?? {
      status: 500,
      code: 'internal',
      message: 'The server met an error of its own; nothing was changed.',
      remedy: 'Try again. If it comes back, the log of the server says more.',
    };
    if (!request.complete) response.set('Connection', 'close'); // the rest of a refused body is not read
    response.status(status).json({ code, message, remedy });
  };
}

function toAppError(error: unknown): AppError | null {
  if (error instanceof AppError) return error;
  if (error instanceof StorageError)
    return new AppError(error.fault === 'full' ? 507 : 503, error.code, error.message, error.remedy);
  if (error instanceof DamagedFileError) return new AppError(500, error.code, error.message, error.remedy);
  const { type, status } = error as BodyParserError;
  if (type === 'entity.too.large') return new AppError(413, 'too-large', 'The request is too large.', '');
  if (status === 415) {
    const why = (error as Error).message;
    return new AppError(415, 'unsupported-encoding', `The request cannot be read: ${why}.`, 'Send JSON in UTF-8.');
  }
  // what Express and its parsers refuse, a bad range among it
  if (status !== undefined && status >= 400 && status < 500)
    return new AppError(status, 'bad-request', 'The request is malformed.', '');
  return null;
}
