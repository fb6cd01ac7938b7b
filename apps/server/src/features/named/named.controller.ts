import { idSchema, keptNameSchema } from '@lithe-sieve/contract';
import { Router, type Response } from 'express';
import { z } from 'zod';
import { parse } from '../../http/respond.ts';
import type { Named, NamedService } from './named.service.ts';

const path = z.object({ id: idSchema });

/** @param listed - What a list of them is called in an answer. @param body - Of one that is to be kept. */
export function namedRouter<K extends string, T>(
  service: NamedService<K, T>,
  listed: string,
  body: z.ZodType<Named<K, T>>,
): Router {
  const router = Router();
  const answer = async (response: Response) => {
    const { kept, damaged } = await service.list();
    response.json({ [listed]: kept, damaged });
  };

  router.get('/', (_request, response) => answer(response));
  router.post('/', async (request, response) => {
    await service.keep(parse(body, request.body, 'body'));
    await answer(response);
  });
  router.put('/:id/name', async (request, response) => {
    const { id } = parse(path, request.params, 'path');
    await service.rename(id, parse(keptNameSchema, request.body, 'name').name);
    await answer(response);
  });
  router.delete('/:id', async (request, response) => {
    await service.remove(parse(path, request.params, 'path').id);
    await answer(response);
  });

  return router;
}
