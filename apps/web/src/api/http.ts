import { errorBodySchema, type z } from '@lithe-sieve/contract';
import { answering } from './answering';

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
  return new ApiError(0, 'unreachable', 'The server does not answer.', 'Is it still running?');
}

/** An answer that has not begun by then does not come any more. */
const PATIENCE_MS = 60_000;

interface RequestInit {
  method?: string;
  body?: unknown;
  signal?: AbortSignal;
  patienceMs?: number;
}

/** Sends JSON, and checks what comes back against the contract, so that nothing unchecked enters a store. */
export async function requestJson<S extends z.ZodType>(
  path: string,
  schema: S,
  init: RequestInit = {},
): Promise<z.infer<S>> {
  const response = await request(path, init);
  return schema.parse(await response.json());
}

export async function request(
  path: string,
  { method = 'GET', body, signal, patienceMs = PATIENCE_MS }: RequestInit = {},
): Promise<Response> {
  const late = new AbortController();
  const timer = setTimeout(() => late.abort(), patienceMs);
  const heard = answering.sent();
  const response = await fetch(`/api${path}`, {
    method,
    signal: signal ? AbortSignal.any([signal, late.signal]) : late.signal,
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
  })
    .then((answer) => {
      heard(true);
      return answer;
    })
    .catch((error: unknown) => {
      heard(false);
      throw signal?.aborted ? error : unreachable();
    })
    .finally(() => clearTimeout(timer));
  if (!response.ok) throw toApiError(response.status, await response.json().catch(() => null));
  return response;
}

export function toApiError(status: number, body: unknown): ApiError {
  const parsed = errorBodySchema.safeParse(body);
  if (!parsed.success) return new ApiError(status, 'internal', `The server answered ${status}.`, 'Try again.');
  return new ApiError(status, parsed.data.code, parsed.data.message, parsed.data.remedy);
}
