import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { idSchema, startHandOffSchema, type HandOffReport } from '@lithe-sieve/contract';
import { Router, type Response } from 'express';
import { Zip, ZipPassThrough } from 'fflate';
import { z } from 'zod';
import { notFound } from '../../http/app-error.ts';
import { parse } from '../../http/respond.ts';
import type { SourcesService } from '../sources/sources.service.ts';
import type { JobsService } from './jobs.service.ts';
import { reportText } from './report-text.ts';

const idPath = z.object({ id: idSchema });
const filePath = z.object({ id: idSchema, index: z.coerce.number().int().min(0).max(99) });

export function handOffsRouter(jobs: JobsService, blobs: Pick<SourcesService, 'read'>): Router {
  const router = Router();
  const idOf = (params: unknown) => parse(idPath, params, 'path').id;
  const reportOf = async (id: string): Promise<HandOffReport> => {
    const { report } = await jobs.get(id);
    if (!report) throw notFound('hand-off');
    return report;
  };

  router.post('/pieces/:id/hand-offs', async (request, response) => {
    const body = parse(startHandOffSchema, request.body, 'hand-off');
    response.status(202).json(await jobs.start(idOf(request.params), body));
  });
  router.get('/pieces/:id/hand-offs/latest', async (request, response) => {
    response.json(await jobs.latest(idOf(request.params)));
  });
  router.get('/jobs/:id', async (request, response) => {
    response.json(await jobs.get(idOf(request.params)));
  });
  router.delete('/jobs/:id', async (request, response) => {
    response.json(await jobs.cancel(idOf(request.params)));
  });
  router.get('/jobs/:id/files/:index', async (request, response) => {
    const { id, index } = parse(filePath, request.params, 'path');
    const file = (await reportOf(id)).files[index];
    if (!file) throw notFound('file');
    attach(response, file.name, file.name.endsWith('.glb') ? 'model/gltf-binary' : 'image/png');
    response.set('Content-Length', String(file.bytes));
    await pipeline(Readable.from(blobs.read(file.sha256)), response);
  });
  router.get('/jobs/:id/all.zip', async (request, response) => {
    const report = await reportOf(idOf(request.params));
    const [first] = report.files;
    attach(response, `${first.name.replace(/\.[^.]*$/, '')}.zip`, 'application/zip');
    await pipeline(Readable.from(zipOf(report, blobs)), response);
  });

  return router;
}

function attach(response: Response, name: string, type: string): void {
  response.set({ 'Content-Type': type, 'Content-Disposition': `attachment; filename="${name}"` });
}

/** Files are compressed already: they are stored, chunk by chunk, so that a large one never stands in memory whole. */
async function* zipOf(report: HandOffReport, blobs: Pick<SourcesService, 'read'>): AsyncGenerator<Uint8Array> {
  const ready: Uint8Array[] = [];
  const zip = new Zip((error, data) => {
    if (error) throw error;
    ready.push(data);
  });
  for (const { name, sha256 } of report.files) {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    for await (const chunk of blobs.read(sha256)) {
      entry.push(new Uint8Array(chunk));
      yield* ready.splice(0);
    }
    entry.push(new Uint8Array(0), true);
  }
  for (const [name, text] of [
    ['report.txt', reportText(report)],
    ['report.json', JSON.stringify(report, null, 2)],
  ]) {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    entry.push(new TextEncoder().encode(text), true);
  }
  zip.end();
  yield* ready.splice(0);
}
