import { afterAll } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, request as httpRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { makeApp, type App } from '../src/app.ts';
import { Database } from '../src/db/database.ts';
import { WorkerPool } from '../src/worker/pool.ts';

export interface Answer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  bytes: Buffer;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- answers are checked by the tests that read them
  json: any;
}

export interface TestServer {
  db: Database;
  app: App;
  call(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<Answer>;
  stop(): Promise<void>;
}

/** The threads of all servers of a test file, one after the other: to start them from the sources takes three seconds. */
let threads: WorkerPool | undefined;
afterAll(() => threads?.close());

/** A whole server on a folder of its own, from the sources. */
export async function startServer(
  folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-test-')),
  keep = false,
  host = 'studio.test',
  token: string | null = null,
): Promise<TestServer> {
  const db = await Database.open(folder);
  const pool = (threads ??= new WorkerPool());
  const app = makeApp(db, pool, pino({ level: 'silent' }), {
    host,
    names: [],
    token,
    secure: false,
    folders: [],
    backupHours: 0,
    keepDays: 14,
  });
  const server: Server = createServer(app.express);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  return {
    db,
    app,
    call: (method, path, body, headers = {}) => send(port, method, path, body, headers),
    async stop() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await Promise.all([app.summaries.stop(), app.jobs.stop(), app.outputs.stop()]);
      await db.close();
      if (!keep) rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Plain HTTP, so that any Host and Origin can be claimed. */
function send(
  port: number,
  method: string,
  path: string,
  body: unknown,
  headers: Record<string, string>,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const raw = body instanceof Uint8Array;
    const payload = body === undefined ? undefined : raw ? body : JSON.stringify(body);
    const type: Record<string, string> = body === undefined || raw ? {} : { 'Content-Type': 'application/json' };
    const all = { Host: `127.0.0.1:${port}`, ...type, ...headers };
    const request = httpRequest(
      // a connection for each: one that is kept is closed by the server after 5 s, maybe as it is used again
      { port, host: '127.0.0.1', method, path, headers: all, agent: false },
      (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('end', () => {
          const bytes = Buffer.concat(parts);
          const isJson = response.headers['content-type']?.startsWith('application/json');
          resolve({
            status: response.statusCode ?? 0,
            headers: response.headers,
            bytes,
            json: isJson ? JSON.parse(bytes.toString()) : null,
          });
        });
      },
    );
    request.on('error', reject);
    request.end(payload);
  });
}
