import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Request, RequestHandler } from 'express';
import { StudioError } from '../studio-error.ts';

/** The names of its cookies begin with it: a browser has one set of cookies for all ports of a machine. */
const COOKIE = 'lithe-sieve-access';
const YEAR_S = 365 * 24 * 3600;

/** The token of a studio, made at its first start; it stays the same, so that a bookmark stays good. */
export function accessTokenOf(folder: string): string {
  const file = join(folder, 'access-token');
  if (!existsSync(file)) writeFileSync(file, randomBytes(18).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}

/**
 * Answers only who brought the token once: in the address (`?token=`), from where it goes into a cookie, or as
 * `Authorization: Bearer` (RFC 6750).
 */
export function tokenOnly(token: string, secure: boolean): RequestHandler {
  return (request, response, next) => {
    const { token: given, ...rest } = request.query;
    if (request.method === 'GET' && typeof given === 'string' && isSame(given, token)) {
      const cookie = `${cookieName(token)}=${token}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${YEAR_S}${secure ? '; Secure' : ''}`;
      const query = new URLSearchParams(rest as Record<string, string>).toString();
      response
        .set('Set-Cookie', cookie)
        .redirect(303, `${request.path.replace(/^\/+/, '/')}${query ? `?${query}` : ''}`);
      return;
    }
    if (isSame(bearerOf(request), token) || cookiesOf(request).some((value) => isSame(value, token))) {
      next();
      return;
    }
    if (request.path.startsWith('/api/') || request.method !== 'GET') {
      throw new StudioError(
        'no-access',
        'no-access',
        'This server asks for its access token.',
        'Load the page again and enter it.',
      );
    }
    response.status(401).type('html').send(DOOR);
  };
}

function bearerOf(request: Request): string {
  return /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1] ?? '';
}

/** One to each studio, so that two on one machine do not take each other's. */
function cookieName(token: string): string {
  return `${COOKIE}-${createHash('sha256').update(token).digest('hex').slice(0, 12)}`;
}

function cookiesOf(request: Request): string[] {
  const pairs = (request.headers.cookie ?? '').split(/; */).map((pair) => pair.split('='));
  return pairs.filter(([name]) => name.startsWith(COOKIE)).map(([, value]) => value ?? '');
}

/** Takes as long for any two texts. */
function isSame(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}

const DOOR = `<!doctype html><html lang="en"><meta charset="utf-8"><title>Lithe Sieve</title>
<body><main><h1>Lithe Sieve</h1>
<p>This studio asks for its access token. It stands in the server's first lines, and in the file “access-token” of its folder.</p>
<form><label>Access token <input name="token" autocomplete="off" autofocus></label> <button>Enter</button></form>
</main></body></html>`;
