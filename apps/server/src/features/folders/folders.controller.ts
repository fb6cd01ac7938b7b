import { addFolderSchema, pathSchema, type FollowEvent } from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { parse } from '../../http/respond.ts';
import type { FollowService } from './follow.service.ts';
import type { FoldersService } from './folders.service.ts';

const pathQuery = z.object({ path: pathSchema });
/** As many as a piece may have sources. */
const pathsQuery = z.object({ path: z.union([pathSchema.transform((p) => [p]), z.array(pathSchema).max(16)]) });

export function foldersRouter(folders: FoldersService, follow: FollowService): Router {
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await folders.list());
  });
  router.post('/', async (request, response) => {
    response.json(await folders.add(parse(addFolderSchema, request.body, 'folder').path));
  });
  router.delete('/', async (request, response) => {
    response.json(await folders.remove(parse(pathQuery, request.query, 'query').path));
  });
  router.get('/list', async (request, response) => {
    response.json(await folders.look(parse(pathQuery, request.query, 'query').path));
  });

  /** Server-sent events (HTML standard §9.2), as long as the page listens. */
  router.get('/follow', (request, response) => {
    const { path: paths } = parse(pathsQuery, request.query, 'query');
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' }).flushHeaders();
    const tell = (event: FollowEvent) => !gone.signal.aborted && response.write(`data: ${JSON.stringify(event)}\n\n`);
    for (const path of new Set(paths)) void follow.follow(path, tell, gone.signal);
  });

  return router;
}
