import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { idSchema, startHandOffSchema, type HandOffReport } from '@lithe-sieve/contract';
import { Router } from 'express';
import { z } from 'zod';
import { notFound } from '../../studio-error.ts';
import { attach } from '../../http/attach.ts';
import { parse } from '../../http/respond.ts';
import { zipOf, type ZipEntry } from '../../http/zip.ts';
import type { SourcesService } from '../sources/sources.service.ts';
import type { JobsService } from './jobs.service.ts';
import { readMe } from './read-me.ts';
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
  router.get('/pieces/:id/hand-offs', async (request, response) => {
    response.json(await jobs.kept(idOf(request.params)));
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
    const { length, chunks } = await blobs.read(file.sha256);
    attach(response, file.name, typeOf(file.name));
    response.set('Content-Length', String(length));
    await pipeline(Readable.from(chunks), response);
  });
  router.get('/jobs/:id/files/:index/view.png', async (request, response) => {
    const { id, index } = parse(filePath, request.params, 'path');
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    const picture = await jobs.viewOf(id, index, gone.signal);
    response
      .set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, max-age=31536000, immutable' })
      .send(Buffer.from(picture.buffer, picture.byteOffset, picture.length));
  });
  router.get('/jobs/:id/receivers/:index.png', async (request, response) => {
    const { id, index } = parse(filePath, request.params, 'path');
    const sha256 = (await reportOf(id)).receivers[index]?.picture;
    if (!sha256) throw notFound('picture');
    const { length, chunks } = await blobs.read(sha256);
    response.set({
      'Content-Type': 'image/png',
      'Content-Length': String(length),
      'Cache-Control': 'private, max-age=31536000, immutable',
    });
    await pipeline(Readable.from(chunks), response);
  });
  router.get('/jobs/:id/all.zip', async (request, response) => {
    const report = await reportOf(idOf(request.params));
    const [first] = report.files;
    const named = [...report.files.map((f) => f.sha256), ...report.receivers.map((r) => r.picture)];
    for (const sha256 of named) if (sha256) await blobs.read(sha256); // damage is said before the first byte
    attach(response, `${first.name.replace(/\.[^.]*$/, '')}.zip`, 'application/zip');
    await pipeline(Readable.from(zipOf(entriesOf(report, blobs))), response);
  });

  return router;
}

/** Media types of what a hand-off writes; what is not there is plain bytes. */
const TYPES: Record<string, string> = {
  '.png': 'image/png',
  '.tif': 'image/tiff',
  '.glb': 'model/gltf-binary',
  '.gltf': 'model/gltf+json',
  '.usda': 'text/plain; charset=utf-8',
  '.usdz': 'model/vnd.usdz+zip',
  '.mtlx': 'application/xml',
  '.obj': 'model/obj',
  '.mtl': 'model/mtl',
  '.json': 'application/json',
  '.webp': 'image/webp',
  '.ktx2': 'image/ktx2',
  '.dds': 'image/vnd-ms.dds',
};

function typeOf(name: string): string {
  return TYPES[/\.[^.]*$/.exec(name)?.[0].toLowerCase() ?? ''] ?? 'application/octet-stream';
}

/** The files, and the report as a person and as a program reads it. */
async function* entriesOf(report: HandOffReport, blobs: Pick<SourcesService, 'read'>): AsyncGenerator<ZipEntry> {
  for (const { name, sha256 } of report.files) yield { name, chunks: (await blobs.read(sha256)).chunks };
  const pictures: (Buffer | null)[] = [];
  for (const { picture } of report.receivers) pictures.push(picture === null ? null : await bytesOf(blobs, picture));
  yield { name: 'read-me.html', chunks: [Buffer.from(readMe(report, pictures))] };
  yield { name: 'report.txt', chunks: [Buffer.from(reportText(report))] };
  yield { name: 'report.json', chunks: [Buffer.from(JSON.stringify(report, null, 2))] };
}

async function bytesOf(blobs: Pick<SourcesService, 'read'>, sha256: string): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of (await blobs.read(sha256)).chunks) parts.push(part);
  return Buffer.concat(parts);
}
