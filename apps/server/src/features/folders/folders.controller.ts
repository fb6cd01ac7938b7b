import {
  addFolderSchema,
  FOLLOWABLE,
  followSchema,
  idSchema,
  pathSchema,
  type FollowEvent,
} from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { parse } from '../../http/respond.ts';
import { FollowStreams } from './follow-streams.ts';
import type { FollowService } from './follow.service.ts';
import type { FoldersService } from './folders.service.ts';

const pathQuery = z.object({ path: pathSchema });
const listQuery = pathQuery.extend({ of: z.enum(FOLLOWABLE).default('pictures') });
const streamPath = z.object({ id: idSchema });

export function foldersRouter(folders: FoldersService, follow: FollowService): Router {
  const router = Router();
  const streams = new FollowStreams(follow);

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
    const { path, of } = parse(listQuery, request.query, 'query');
    response.json(await folders.look(path, of));
  });

  /** Server-sent events (HTML standard §9.2), as long as somebody listens. */
  router.get('/follow/:id', (request, response) => {
    const { id } = parse(streamPath, request.params, 'path');
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' }).flushHeaders();
    const tell = (event: FollowEvent) => !gone.signal.aborted && response.write(`data: ${JSON.stringify(event)}\n\n`);
    streams.open(id, tell, gone.signal);
    response.write(': open\n\n');
  });
  /** What a stream follows: the present version of each new file is sent. */
  router.put('/follow/:id', (request, response) => {
    streams.set(parse(streamPath, request.params, 'path').id, parse(followSchema, request.body, 'list').paths);
    response.status(204).end();
  });

  return router;
}
