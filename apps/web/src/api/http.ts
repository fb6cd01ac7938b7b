import { errorBodySchema } from '@lithe-sieve/contract';
import type { z } from 'zod';

/** The server's answer when it is not 2xx. `code` may be branched on; `message` and `remedy` are for people. */
export class ApiError extends Error {
  override readonly name = 'ApiError';

  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

export function unreachable(): ApiError {
  return new ApiError(
    0,
    'unreachable',
    'The server does not answer.',
    'Is it still running? Your last change is kept here and sent again.',
  );
}

/** Sends JSON, and checks what comes back against the contract, so that nothing unchecked enters a store. */
export async function requestJson<S extends z.ZodType>(
  path: string,
  schema: S,
  init: { method?: string; body?: unknown; signal?: AbortSignal } = {},
): Promise<z.infer<S>> {
  const response = await request(path, init);
  return schema.parse(await response.json());
}

export async function request(
  path: string,
  { method = 'GET', body, signal }: { method?: string; body?: unknown; signal?: AbortSignal } = {},
): Promise<Response> {
  const response = await fetch(`/api${path}`, {
    method,
    signal: signal ?? null,
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
  }).catch((error: unknown) => {
    throw error instanceof DOMException && error.name === 'AbortError' ? error : unreachable();
  });
  if (!response.ok) throw toApiError(response.status, await response.json().catch(() => null));
  return response;
}

export function toApiError(status: number, body: unknown): ApiError {
  const parsed = errorBodySchema.safeParse(body);
  if (!parsed.success) return new ApiError(status, 'internal', `The server answered ${status}.`, 'Try again.');
  return new ApiError(status, parsed.data.code, parsed.data.message, parsed.data.remedy);
}
