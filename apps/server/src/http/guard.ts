import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { AppError } from './app-error.ts';

const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];

/** Only this machine reaches a server that listens there. */
export function isLoopback(host: string): boolean {
  return LOOPBACK.includes(host) || host === '::1';
}

/**
 * Answers only requests made to this server by its own name and from its own pages. A foreign page in the same browser
 * is refused by its Origin or Sec-Fetch-Site; a foreign name that resolves here (DNS rebinding) by its Host.
 *
 * @param extraHosts - Names the server was told to listen under, besides loopback.
 */
export function ownOriginOnly(extraHosts: string[]): RequestHandler {
  const names = new Set([...LOOPBACK, ...extraHosts.map((h) => h.toLowerCase())]);
  return (request, _response, next) => {
    const host = (request.headers.host ?? '').toLowerCase();
    if (!names.has(host.replace(/:\d+$/, ''))) throw refused('This server does not answer to that host name.');
    const origin = request.headers.origin;
    if (origin !== undefined && origin.toLowerCase() !== `http://${host}`)
      throw refused('Requests from other origins are refused.');
    const site = request.headers['sec-fetch-site'];
    const navigates =
      request.headers['sec-fetch-mode'] === 'navigate' && request.method === 'GET' && !request.path.startsWith('/api/');
    if (site !== undefined && site !== 'same-origin' && site !== 'none' && !navigates) {
      throw refused('Requests from other sites are refused.');
    }
    next();
  };
}

function refused(message: string): AppError {
  return new AppError(403, 'foreign-request', message, '');
}

/** Content policy, isolation (SharedArrayBuffer needs it) and the usual headers. */
export function securityHeaders(): RequestHandler {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        workerSrc: ["'self'"],
        styleSrc: ["'self'"],
        styleSrcAttr: ["'unsafe-inline'"], // positions that components set on their own elements
        imgSrc: ["'self'", 'blob:', 'data:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    strictTransportSecurity: false, // plain HTTP on loopback
  });
}
