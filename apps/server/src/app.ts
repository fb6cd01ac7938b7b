import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { namedProfileSchema, namedStartSchema, viewSchema } from '@lithe-sieve/contract';
import express, { type Express } from 'express';
import { LIMITS } from '@lithe-sieve/core';
import type { Logger } from 'pino';
import type { Database } from './db/database.ts';
import { foldersRouter } from './features/folders/folders.controller.ts';
import { FoldersService } from './features/folders/folders.service.ts';
import { FollowService } from './features/folders/follow.service.ts';
import { handOffsRouter } from './features/handoffs/handoffs.controller.ts';
import { JobsRepository } from './db/repositories/jobs.ts';
import { JobsService } from './features/handoffs/jobs.service.ts';
import { outputsRouter } from './features/outputs/outputs.controller.ts';
import { OutputsService } from './features/outputs/outputs.service.ts';
import { piecesRouter } from './features/pieces/pieces.controller.ts';
import { PiecesService } from './features/pieces/pieces.service.ts';
import { SalvageService } from './features/pieces/salvage.service.ts';
import { StrokesService } from './features/pieces/strokes.service.ts';
import { SummariesService } from './features/pieces/summaries.service.ts';
import { MeshesService } from './features/meshes/meshes.service.ts';
import { sourcesRouter } from './features/sources/sources.controller.ts';
import { SourcesService } from './features/sources/sources.service.ts';
import { BackupsService } from './features/studio/backups.service.ts';
import { studioRouter } from './features/studio/studio.controller.ts';
import { StudioService } from './features/studio/studio.service.ts';
import { PROFILES, STARTS, VIEWS } from './features/named/kinds.ts';
import { namedRouter } from './features/named/named.controller.ts';
import { NamedService } from './features/named/named.service.ts';
import { notFound } from './studio-error.ts';
import { tokenOnly } from './http/access.ts';
import { ownOriginOnly, securityHeaders } from './http/guard.ts';
import { isLoopback, namesOf } from './http/names.ts';
import { errorHandler } from './http/respond.ts';
import type { WorkerPool } from './worker/pool.ts';

export interface App {
  express: Express;
  sources: SourcesService;
  meshes: MeshesService;
  pieces: PiecesService;
  jobs: JobsService;
  outputs: OutputsService;
  summaries: SummariesService;
  follow: FollowService;
  folders: FoldersService;
  backups: BackupsService;
  studio: StudioService;
}

const WEB = fileURLToPath(new URL('../../web/dist', import.meta.url));

export interface AppOptions {
  host: string;
  /** Further names that it answers to. */
  names: string[];
  /** What is asked for at the door; null: nothing. */
  token: string | null;
  /** Whether pages come over TLS. */
  secure: boolean;
  /** Folders whose files may be followed, besides those that the studio remembers. */
  folders: string[];
  backupHours: number;
  keepDays: number;
}

export function makeApp(db: Database, pool: WorkerPool, log: Logger, options: AppOptions): App {
  const { host, folders: given } = options;
  const sources = new SourcesService(db, pool);
  const meshes = new MeshesService(db, pool);
  const strokes = new StrokesService(db);
  const pieces = new PiecesService(db, sources, strokes);
  const summaries = new SummariesService(db, pool, pieces, sources, meshes, log);
  const folders = new FoldersService(db, given, isLoopback(host));
  const follow = new FollowService(folders, sources, meshes);
  const jobs = new JobsService(new JobsRepository(db), pool, pieces, log);
  const outputs = new OutputsService(db, pieces, jobs, folders, log);
  pieces.changed = (id) => {
    summaries.giveUp(id);
    outputs.changed(id);
  };

  const backups = new BackupsService(db, pool, log, options.backupHours);
  const studio = new StudioService(db, pool, backups, log, options.keepDays);

  const app = express();
  app.disable('x-powered-by');
  app.enable('case sensitive routing'); // what the guard takes for a page is none of the API
  app.use(securityHeaders());
  app.use(ownOriginOnly(namesOf(host, options.names)));
  app.use((request, response, next) => {
    const started = performance.now();
    const { method, path } = request;
    response.on('finish', () => {
      const ms = Math.round(performance.now() - started);
      if (path.startsWith('/api/')) log.info({ method, path, status: response.statusCode, ms }, 'request');
    });
    next();
  });
  if (options.token !== null) app.use(tokenOnly(options.token, options.secure));
  app.get('/api/alive', (_request, response) => void response.status(204).end());
  app.use('/api/sources', sourcesRouter(sources, meshes, pool.budget.bytes));
  app.use('/api', express.json({ limit: LIMITS.editBytes }));
  app.use('/api/pieces', piecesRouter(pieces, summaries, new SalvageService(db, sources)));
  app.use('/api/folders', foldersRouter(folders, follow));
  app.use('/api/views', namedRouter(new NamedService(db, VIEWS), 'views', viewSchema));
  app.use('/api/profiles', namedRouter(new NamedService(db, PROFILES), 'profiles', namedProfileSchema));
  app.use('/api/starts', namedRouter(new NamedService(db, STARTS), 'starts', namedStartSchema));
  app.use('/api/studio', studioRouter(studio, backups));
  app.use('/api', handOffsRouter(jobs, sources));
  app.use('/api', outputsRouter(outputs));
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
  return { express: app, sources, meshes, pieces, summaries, jobs, outputs, follow, folders, backups, studio };
}

/** Built files carry their hash in the name. */
function cacheForever(path: string): boolean {
  return path.includes('/assets/');
}
