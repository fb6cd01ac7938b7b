import { createServer as createPlainServer, type Server } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { pino } from 'pino';
import { makeApp, type App } from './app.ts';
import { Database, STUDIO_FILE } from './db/database.ts';
import { seedDemo } from './demo/seed.ts';
import { accessTokenOf } from './http/access.ts';
import { inUrl, isLoopback, listensEverywhere, namesOf } from './http/names.ts';
import { certificateOf, type Certificate } from './http/tls.ts';
import { readOptions, type ServerOptions } from './options.ts';
import { whyItCannotStart } from './db/start-error.ts';
import { lookOver } from './worker/look-over.ts';
import { WorkerPool } from './worker/pool.ts';

const log = pino({ base: null });

/** How long a connection stays without a request. */
const KEEP_ALIVE_MS = 75_000;

/** Between looks whether the studio file is still where it was. */
const LOOK_AFTER_MS = 2000;

async function start(options: ServerOptions): Promise<void> {
  const db = await Database.open(options.data);
  const certificate = await certificateOf(options.tls, options.data, namesOf(options.host, options.names));
  const pool = new WorkerPool(options.memory);
  const token = options.guarded ? accessTokenOf(options.data) : null;
  const app = makeApp(db, pool, log, { ...options, token, secure: certificate !== null });
  if (options.demo && (await app.pieces.isEmpty())) {
    log.info('drawing the demo pieces, some twenty seconds');
    await seedDemo(pool, app);
  }
  await pool.warm();
  await app.jobs.resume();
  await app.outputs.start();
  app.backups.start();
  app.studio.start();
  const server = makeServer(app, certificate);
  server.listen(options.port, options.host, () => {
    const { port } = server.address() as AddressInfo;
    sayWhere(db, pool, options, port, certificate !== null, token);
  });
  server.on('error', (error) => {
    log.fatal(whyItCannotStart(error));
    process.exit(1);
  });
  watchFile(db);
  stopOnSignals(async () => {
    server.close();
    server.closeAllConnections(); // a page that follows files never ends its own
    for (const service of [app.backups, app.studio]) service.stop();
    await Promise.all([app.summaries.stop(), app.jobs.stop(), app.outputs.stop()]);
    await pool.close();
    await db.close();
  });
}

function makeServer(app: App, certificate: Certificate | null): Server {
  const server = certificate ? createTlsServer(certificate, app.express) : createPlainServer(app.express);
  // longer than clients keep a connection: one that is closed just as a request is sent on it fails that request
  server.keepAliveTimeout = KEEP_ALIVE_MS;
  server.headersTimeout = KEEP_ALIVE_MS + 5000;
  return server;
}

/** The address, and plainly what will not work from other machines. */
function sayWhere(
  db: Database,
  pool: WorkerPool,
  options: ServerOptions,
  port: number,
  secure: boolean,
  token: string | null,
): void {
  const memoryMb = Math.round(pool.budget.bytes / 1024 / 1024); // what tasks may take together
  const { data, host, names } = options;
  const shown = listensEverywhere(host) ? (namesOf(host, names).find((n) => !isLoopback(n)) ?? host) : inUrl(host);
  const address = `${secure ? 'https' : 'http'}://${names[0] ?? shown}:${port}`;
  db.tellAddress(address);
  log.info({ data, address: token ? `${address}/?token=${token}` : address, memoryMb }, 'listening');
  if (isLoopback(host)) return;
  if (!secure) {
    log.warn(
      'plain HTTP: on other machines the Stock and the Hand-off work, the Bench does not (browsers give shared memory to secure pages only). Start with --tls, or with --tls-cert and --tls-key.',
    );
  }
  if (!token) log.warn('--unguarded: whoever reaches this address may see and change everything');
}

function watchFile(db: Database): void {
  let there = true;
  setInterval(() => {
    if (db.isThere() === there) return;
    there = !there;
    if (there) log.info({ data: db.folder }, 'the studio file is back: changes are taken again');
    else log.fatal({ data: db.folder }, 'the studio file was moved, removed or replaced: NO CHANGE IS TAKEN');
  }, LOOK_AFTER_MS).unref();
}

function stopOnSignals(stop: () => Promise<void>): void {
  let stopping = false;
  for (const signal of ['SIGTERM', 'SIGINT'] as const) {
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      log.info({ signal }, 'stopping');
      void stop().then(() => {
        log.info('stopped');
        process.exit(0);
      });
    });
  }
}

/** `--check`: looks the studio over and ends; the server may be running meanwhile. */
async function check({ data }: ServerOptions): Promise<void> {
  const { found, ...counts } = await lookOver({ file: join(data, STUDIO_FILE) });
  const { pieces, files, entries, strokes } = counts;
  console.log(`${data}: ${pieces} pieces, ${files} files, ${entries} steps of history, ${strokes} strokes checked.`);
  for (const line of found) console.log(`  ${line}`);
  console.log(
    found.length === 0
      ? 'No problem found.'
      : `${found.length} problems found. docs/reliability.md says how to go back to a backup; bringing a file in again repairs a damaged one.`,
  );
  process.exit(found.length === 0 ? 0 : 1);
}

try {
  const options = readOptions(process.argv.slice(2));
  await (options.check ? check(options) : start(options));
} catch (error) {
  log.fatal(whyItCannotStart(error));
  process.exit(1);
}
