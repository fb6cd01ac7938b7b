import { copyPieceSchema, createPieceSchema, editSchema, idSchema } from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { parse } from '../../http/respond.ts';
import type { PiecesService } from './pieces.service.ts';
import type { SummariesService } from './summaries.service.ts';

const piecePath = z.object({ id: idSchema });

export function piecesRouter(pieces: PiecesService, summaries: SummariesService): Router {
  const router = Router();
  const idOf = (params: unknown) => parse(piecePath, params, 'path').id;

  router.get('/', async (_request, response) => {
    response.json(await summaries.list());
  });
  router.post('/', async (request, response) => {
    response.status(201).json({ id: await pieces.create(parse(createPieceSchema, request.body, 'piece')) });
  });
  router.post('/copies', async (request, response) => {
    response.status(201).json({ id: await pieces.copy(parse(copyPieceSchema, request.body, 'piece').doc) });
  });
  router.get('/:id', async (request, response) => {
    response.json(await pieces.open(idOf(request.params)));
  });
  router.get('/:id/picture.png', async (request, response) => {
    const picture = await summaries.pictureOf(idOf(request.params));
    response
      .set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, max-age=31536000, immutable' })
      .send(picture);
  });
  /** All strokes that the piece names or named: a JSON list. */
  router.get('/:id/strokes', async (request, response) => {
    const id = idOf(request.params);
    const { doc } = await pieces.open(id);
    response.type('json').send(`[${(await pieces.strokes.textsOf(id, doc)).join()}]`);
  });
  router.post('/:id/edits', async (request, response) => {
    response.json(await pieces.edit(idOf(request.params), parse(editSchema, request.body, 'edit')));
  });
  router.delete('/:id', async (request, response) => {
    await pieces.setDeleted(idOf(request.params), true);
    response.status(204).end();
  });
  router.post('/:id/restore', async (request, response) => {
    await pieces.setDeleted(idOf(request.params), false);
    response.status(204).end();
  });

  return router;
}
