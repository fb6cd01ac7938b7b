import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import {
  copyPieceSchema,
  createPieceSchema,
  editSchema,
  FULL_SIDES_HEADER,
  fullSizeSchema,
  idSchema,
  PIECES_AT_ONCE,
  type DeletedPiece,
  type PieceList,
} from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { attach } from '../../http/attach.ts';
import { parse } from '../../http/respond.ts';
import { zipOf } from '../../http/zip.ts';
import type { PiecesService } from './pieces.service.ts';
import type { SalvageService } from './salvage.service.ts';
import type { SummariesService } from './summaries.service.ts';

const piecePath = z.object({ id: idSchema });
const listQuery = z.strictObject({
  from: z.coerce.number().int().min(0).max(1e9).default(0),
  count: z.coerce.number().int().min(1).max(PIECES_AT_ONCE).default(PIECES_AT_ONCE),
  search: z.string().max(200).default(''),
});

export function piecesRouter(pieces: PiecesService, summaries: SummariesService, salvage: SalvageService): Router {
  const router = Router();
  const idOf = (params: unknown) => parse(piecePath, params, 'path').id;

  router.get('/', async (request, response) => {
    response.json((await summaries.list(parse(listQuery, request.query, 'query'))) satisfies PieceList);
  });
  router.post('/', async (request, response) => {
    response.status(201).json({ id: await pieces.create(parse(createPieceSchema, request.body, 'piece')) });
  });
  router.post('/copies', async (request, response) => {
    response.status(201).json({ id: await pieces.copy(parse(copyPieceSchema, request.body, 'piece', 'refused')) });
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
  /** Colour and alpha of the newest revision, to begin with; 204 where nothing is kept of it. The sides of its full size are in a header. */
  router.get('/:id/view.png', async (request, response) => {
    const view = await summaries.viewOf(idOf(request.params));
    if (!view) return void response.status(204).end();
    response
      .set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, no-cache' })
      .set(FULL_SIDES_HEADER, `${view.width} ${view.height}`)
      .send(view.png);
  });
  /** All strokes that the piece names or named: a JSON list. */
  router.get('/:id/strokes', async (request, response) => {
    const id = idOf(request.params);
    const { doc } = await pieces.open(id);
    response.type('json').send(`[${(await pieces.strokes.textsOf(id, doc)).join()}]`);
  });
  /** What there is of a piece that cannot be opened. */
  router.get('/:id/salvage.zip', async (request, response) => {
    const files = zipOf(salvage.filesOf(idOf(request.params)));
    const first = await files.next(); // a piece that is not here is said before the first byte
    attach(response, 'piece.zip', 'application/zip');
    if (first.value) response.write(first.value);
    await pipeline(Readable.from(files), response);
  });
  /** `refused`: a change that can never be taken. Whatever else is answered, the page sends it again. */
  router.post('/:id/edits', async (request, response) => {
    response.json(await pieces.edit(idOf(request.params), parse(editSchema, request.body, 'change', 'refused')));
  });
  router.put('/:id/full-size', async (request, response) => {
    await summaries.tellFullSize(idOf(request.params), parse(fullSizeSchema, request.body, 'figures'));
    response.status(204).end();
  });
  router.delete('/:id', async (request, response) => {
    const id = idOf(request.params);
    const usedBy = await pieces.usersOf(id); // first: after the deletion nothing may fail any more
    await pieces.setDeleted(id, true);
    response.json({ usedBy } satisfies DeletedPiece);
  });
  router.post('/:id/restore', async (request, response) => {
    await pieces.setDeleted(idOf(request.params), false);
    response.status(204).end();
  });

  return router;
}
