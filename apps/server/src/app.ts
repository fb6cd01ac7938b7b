import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import express, { type Express } from 'express';
import { LIMITS } from '@lithe-sieve/core';
import type { Logger } from 'pino';
import type { Database } from './db/database.ts';
import { foldersRouter } from './features/folders/folders.controller.ts';
import { FoldersService } from './features/folders/folders.service.ts';
import { FollowService } from './features/folders/follow.service.ts';
import { handOffsRouter } from './features/handoffs/handoffs.controller.ts';
import { JobsService } from './features/handoffs/jobs.service.ts';
import { piecesRouter } from './features/pieces/pieces.controller.ts';
import { PiecesService } from './features/pieces/pieces.service.ts';
import { SalvageService } from './features/pieces/salvage.service.ts';
import { StrokesService } from './features/pieces/strokes.service.ts';
import { SummariesService } from './features/pieces/summaries.service.ts';
import { sourcesRouter } from './features/sources/sources.controller.ts';
import { SourcesService } from './features/sources/sources.service.ts';
import { notFound } from './http/app-error.ts';
import { isLoopback, ownOriginOnly, securityHeaders } from './http/guard.ts';
import { errorHandler } from './http/respond.ts';
import type { WorkerPool } from './worker/pool.ts';

export interface App {
  express: Express;
  sources: SourcesService;
  pieces: PiecesService;
  jobs: JobsService;
  summaries: SummariesService;
  follow: FollowService;
}

const WEB = fileURLToPath(new URL('../../web/dist', import.meta.url));

export interface AppOptions {
  host: string;
  /** Folders whose files may be followed, besides those that the studio remembers. */
  folders: string[];
}

export function makeApp(db: Database, pool: WorkerPool, log: Logger, { host, folders: given }: AppOptions): App {
  const sources = new SourcesService(db, pool);
  const strokes = new StrokesService(db);
  const pieces = new PiecesService(db, sources, strokes);
  const summaries = new SummariesService(db, pool, pieces, log);
  const folders = new FoldersService(db, given, isLoopback(host));
  const follow = new FollowService(folders, sources);
  const jobs = new JobsService(db, pool, pieces, log);

  const app = express();
  app.disable('x-powered-by');
  app.use(securityHeaders());
  app.use(ownOriginOnly([host]));
  app.use((request, response, next) => {
    const started = performance.now();
    const { method, path } = request;
    response.on('finish', () => {
      const ms = Math.round(performance.now() - started);
      if (path.startsWith('/api/')) log.info({ method, path, status: response.statusCode, ms }, 'request');
    });
    next();
  });
  app.use('/api/sources', sourcesRouter(sources));
  app.use('/api', express.json({ limit: LIMITS.editBytes }));
  app.use('/api/pieces', piecesRouter(pieces, summaries, new SalvageService(db, sources)));
  app.use('/api/folders', foldersRouter(folders, follow));
  app.use('/api', handOffsRouter(jobs, sources));
  app.use('/api/{*rest}', () => {
    throw notFound('address');
  });
  if (existsSync(WEB)) {
    app.use(
      express.static(WEB, {
        index: false,
        setHeaders: (response, path) =>
          cacheForever(path) && response.set('Cache-Control', 'public, max-age=31536000, immutable'),
      }),
    );
    app.get('/{*page}', (_request, response) => response.sendFile('index.html', { root: WEB }));
  }
  app.use(errorHandler(log));
  return { express: app, sources, pieces, summaries, jobs, follow };
}

/** Built files carry their hash in the name. */
function cacheForever(path: string): boolean {
  return path.includes('/assets/');
}
