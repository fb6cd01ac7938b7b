import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { fileNameSchema, sha256Schema, sourceFactsSchema } from '@lithe-sieve/contract';
import { LIMITS } from '@lithe-sieve/core';
import { Router, type Request, type Response } from 'express';
import { z } from 'zod';
import { notFound } from '../../studio-error.ts';
import { parse } from '../../http/respond.ts';
import { MemoryBudget, QUICK } from '../../worker/memory-budget.ts';
import type { MeshesService } from '../meshes/meshes.service.ts';
import { tooLarge, type SourcesService } from './sources.service.ts';

/** A dropped folder's file may come with its path; only the last part is a name. */
const uploadQuery = z.strictObject({
  name: z
    .string()
    .max(4096)
    .transform((path) => path.split(/[\\/]/).pop() ?? '')
    .pipe(fileNameSchema),
});
/** Bytes of uploads on their way in, all together, at the most, and as a share of the memory of tasks: more wait. */
const BODIES_BYTES = 2 * LIMITS.fileBytes;
const BODIES_SHARE = 1 / 4;
const sourcePath = z.object({ sha256: sha256Schema });

/** @param memory - Bytes that tasks may take together. */
export function sourcesRouter(sources: SourcesService, meshes: MeshesService, memory: number): Router {
  const router = Router();
  const room = Math.min(BODIES_BYTES, BODIES_SHARE * memory);
  const kept = room / 4; // for small files: a large one that comes slowly holds none of them up
  const bodies = new MemoryBudget(room, kept);

  type Take = (name: string, bytes: Uint8Array, signal: AbortSignal) => Promise<unknown>;
  const upload = (take: Take) => async (request: Request, response: Response) => {
    const { name } = parse(uploadQuery, request.query, 'query');
    const gone = new AbortController();
    response.on('close', () => gone.abort()); // the page left or cancelled
    const declared = Number(request.headers['content-length'] ?? LIMITS.fileBytes);
    if (declared > LIMITS.fileBytes) throw tooLarge(name);
    const giveBack = await bodies.take(declared, { signal: gone.signal, rank: declared <= kept ? QUICK : 0 });
    try {
      const bytes = await readBody(request, name, declared);
      response.json(await take(name, bytes, gone.signal));
    } finally {
      giveBack();
    }
  };
  router.post(
    '/',
    upload((name, bytes, signal) => sources.bringIn(name, bytes, signal)),
  );
  router.post(
    '/meshes',
    upload((name, bytes, signal) => meshes.bringIn(name, bytes, signal)),
  );

  router.get('/:sha256/mesh', async (request, response) => {
    const { sha256 } = parse(sourcePath, request.params, 'path');
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    const packed = await meshes.packed(sha256, gone.signal);
    response
      .set({ 'Content-Type': 'application/octet-stream', 'Cache-Control': 'private, max-age=31536000, immutable' })
      .send(Buffer.from(packed.buffer, packed.byteOffset, packed.length));
  });

  router.get('/:sha256/facts', async (request, response) => {
    const { sha256 } = parse(sourcePath, request.params, 'path');
    const facts = (await sources.factsOf([sha256])).get(sha256);
    if (!facts) throw notFound('source');
    response.json(sourceFactsSchema.parse(facts));
  });

  router.get('/:sha256/picture.png', async (request, response) => {
    const { sha256 } = parse(sourcePath, request.params, 'path');
    const picture = await sources.pictureOf(sha256);
    response
      .set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, max-age=31536000, immutable' })
      .send(Buffer.from(picture));
  });

  router.get('/:sha256/view.png', async (request, response) => {
    const { sha256 } = parse(sourcePath, request.params, 'path');
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    const picture = await sources.viewOf(sha256, gone.signal);
    response
      .set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, max-age=31536000, immutable' })
      .send(Buffer.from(picture));
  });

  router.get('/:sha256/bytes', async (request, response) => {
    const { sha256 } = parse(sourcePath, request.params, 'path');
    const { length, chunks } = await sources.read(sha256);
    response.set({
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(length),
      'Cache-Control': 'private, max-age=31536000, immutable',
    });
    await pipeline(Readable.from(chunks), response);
  });

  return router;
}

/** Collects the body in shared memory, and stops reading as soon as it is over what was declared. */
async function readBody(request: Request, name: string, declared: number): Promise<Uint8Array> {
  const out = new Uint8Array(new SharedArrayBuffer(declared)); // pages that are never written take no memory
  let at = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    if (at + part.length > declared) throw tooLarge(name);
    out.set(part, at);
    at += part.length;
  }
  return out.subarray(0, at);
}
