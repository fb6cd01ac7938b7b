import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { makeApp } from './app.ts';
import { Database } from './db/database.ts';
import { FolderInUseError } from './db/studio-lock.ts';
import { seedDemo } from './demo/seed.ts';
import { readOptions, type ServerOptions } from './options.ts';
import { WorkerPool } from './worker/pool.ts';

const log = pino({ base: null });

/** Between looks whether the studio file is still where it was. */
const LOOK_AFTER_MS = 2000;

async function start(options: ServerOptions): Promise<void> {
  const db = await Database.open(options.data);
  const pool = new WorkerPool();
  const app = makeApp(db, pool, log, options);
  if (options.demo && (await app.pieces.isEmpty())) {
    log.info('drawing the demo pieces, some ten seconds');
    await seedDemo(pool, app.sources, app.pieces);
  }
  await pool.warm();
  await app.jobs.resume();
  const server = createServer(app.express);
  server.listen(options.port, options.host, () => {
    const { port } = server.address() as AddressInfo;
    const address = `http://${options.host}:${port}`;
    db.tellAddress(address);
    log.info({ data: options.data, address }, 'listening');
  });
  server.on('error', (error) => {
    log.fatal({ err: error }, 'cannot listen');
    process.exit(1);
  });

  let there = true;
  setInterval(() => {
    if (db.isThere() !== there) there = !there;
    else return;
    if (there) log.info({ data: options.data }, 'the studio file is back: changes are taken again');
    else log.fatal({ data: options.data }, 'the studio file was moved, removed or replaced: NO CHANGE IS TAKEN');
  }, LOOK_AFTER_MS).unref();

  let stopping = false;
  const stop = async (signal: string) => {
    if (stopping) return;
    stopping = true;
    log.info({ signal }, 'stopping');
    server.close();
    server.closeAllConnections(); // a page that follows files never ends its own
    app.summaries.stop();
    await app.jobs.stop();
    await pool.close();
    await db.close();
    log.info('stopped');
    process.exit(0);
  };
  process.on('SIGTERM', () => void stop('SIGTERM'));
  process.on('SIGINT', () => void stop('SIGINT'));
}

try {
  await start(readOptions(process.argv.slice(2)));
} catch (error) {
  if (error instanceof FolderInUseError) log.fatal(error.message);
  else log.fatal({ err: error }, 'cannot start');
  process.exit(1);
}
