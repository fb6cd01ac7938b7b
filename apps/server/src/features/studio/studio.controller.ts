import { Router } from 'express';
import type { BackupsService } from './backups.service.ts';
import type { StudioService } from './studio.service.ts';

export function studioRouter(studio: StudioService, backups: BackupsService): Router {
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await studio.look());
  });
  router.post('/free', async (_request, response) => {
    response.json(await studio.free());
  });
  router.post('/backups', async (_request, response) => {
    await backups.make();
    response.status(201).json(await studio.look());
  });
  router.post('/check', async (_request, response) => {
    response.json(await studio.check());
  });

  return router;
}
