import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { StudioError } from '../studio-error.ts';

/**
 * Answers only requests made to this server by its own name and from its own pages. A foreign page in the same browser
 * is refused by its Origin or Sec-Fetch-Site; a foreign name that resolves here (DNS rebinding) by its Host.
 *
 * @param names - In lower case, as they stand in a URL.
 */
export function ownOriginOnly(names: readonly string[]): RequestHandler {
  return (request, _response, next) => {
    const host = (request.headers.host ?? '').toLowerCase();
    const name = host.replace(/:\d+$/, '');
    if (!names.includes(name)) {
      throw refused(`This server does not answer to the name ${name}.`, 'Start it with --name and that name.');
    }
    const origin = request.headers.origin;
    if (origin !== undefined && origin.toLowerCase() !== `${request.protocol}://${host}`)
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

function refused(message: string, remedy = ''): StudioError {
  return new StudioError('forbidden', 'foreign-request', message, remedy);
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
        formAction: ["'self'"], // the door where the access token is asked for
        frameAncestors: ["'none'"],
      },
    },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    strictTransportSecurity: false, // the same names may be used over plain HTTP on loopback
  });
}
