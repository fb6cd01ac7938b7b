import { idSchema, viewNameSchema, viewSchema } from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { parse } from '../../http/respond.ts';
import type { ViewsService } from './views.service.ts';

const path = z.object({ id: idSchema });

export function viewsRouter(views: ViewsService): Router {
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await views.list());
  });
  router.post('/', async (request, response) => {
    await views.keep(parse(viewSchema, request.body, 'view'));
    response.json(await views.list());
  });
  router.put('/:id/name', async (request, response) => {
    const { id } = parse(path, request.params, 'path');
    await views.rename(id, parse(viewNameSchema, request.body, 'name').name);
    response.json(await views.list());
  });
  router.delete('/:id', async (request, response) => {
    await views.remove(parse(path, request.params, 'path').id);
    response.json(await views.list());
  });

  return router;
}
