import { idSchema, setOutputSchema } from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { parse } from '../../http/respond.ts';
import type { OutputsService } from './outputs.service.ts';

const piecePath = z.object({ id: idSchema });

export function outputsRouter(outputs: OutputsService): Router {
  const router = Router();

  router.get('/pieces/:id/output', async (request, response) => {
    response.json(await outputs.of(parse(piecePath, request.params, 'path').id));
  });
  router.put('/pieces/:id/output', async (request, response) => {
    const { id } = parse(piecePath, request.params, 'path');
    response.json(await outputs.set(id, parse(setOutputSchema, request.body, 'folder').folder));
  });
  router.delete('/pieces/:id/output', async (request, response) => {
    await outputs.end(parse(piecePath, request.params, 'path').id);
    response.status(204).end();
  });

  return router;
}
