import { existsSync, realpathSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { StartError } from './db/start-error.ts';
import { isLoopback } from './http/names.ts';
import type { Tls } from './http/tls.ts';

export interface ServerOptions {
  /** Folder of the studio; made if absent. */
  data: string;
  host: string;
  port: number;
  /** Names and addresses that the server answers to, besides its own. */
  names: string[];
  /** Folders whose files may be followed. */
  folders: string[];
  /** Draw the demo pieces into an empty studio. */
  demo: boolean;
  tls: Tls;
  /** Whether the access token is asked for. */
  guarded: boolean;
  /** Hours between backups; 0: none are made. */
  backupHours: number;
  /** Days for which content that nothing names is kept. */
  keepDays: number;
  /** Bytes that tasks may take together; undefined: as the machine has it. */
  memory: number | undefined;
  /** Look the studio over, print what is found, and end. */
  check: boolean;
}

/** @throws StartError that says which option is wrong. */
export function readOptions(args: string[]): ServerOptions {
  const { values } = parseArgs({
    args,
    options: {
      data: { type: 'string', default: './lithe-sieve-data' },
      host: { type: 'string', default: '127.0.0.1' },
      port: { type: 'string', default: '4870' },
      name: { type: 'string', multiple: true, default: [] },
      folder: { type: 'string', multiple: true, default: [] },
      demo: { type: 'boolean', default: false },
      tls: { type: 'boolean', default: false },
      'tls-cert': { type: 'string' },
      'tls-key': { type: 'string' },
      unguarded: { type: 'boolean', default: false },
      'backup-hours': { type: 'string', default: '24' },
      'keep-days': { type: 'string', default: '14' },
      memory: { type: 'string' },
      check: { type: 'boolean', default: false },
    },
  });
  return {
    data: resolve(values.data),
    host: values.host,
    port: numberOf('--port', values.port, 65535),
    names: values.name.map((n) => n.toLowerCase()),
    folders: values.folder.map(folderOf),
    demo: values.demo,
    tls: tlsOf(values.tls, values['tls-cert'], values['tls-key']),
    guarded: !isLoopback(values.host) && !values.unguarded,
    backupHours: numberOf('--backup-hours', values['backup-hours'], 24 * 365),
    keepDays: numberOf('--keep-days', values['keep-days'], 3650),
    memory: values.memory === undefined ? undefined : numberOf('--memory', values.memory, 1 << 20) * 1024 * 1024,
    check: values.check,
  };
}

function numberOf(option: string, text: string, most: number): number {
  const value = Number(text);
  if (!/^\d+$/.test(text) || value > most)
    throw new StartError(`${option} ${text}: expected a whole number from 0 to ${most}`);
  return value;
}

function tlsOf(selfMade: boolean, cert?: string, key?: string): ServerOptions['tls'] {
  if (cert === undefined && key === undefined) return selfMade ? 'self-made' : null;
  if (cert === undefined || key === undefined) throw new StartError('--tls-cert and --tls-key go together');
  for (const file of [cert, key]) if (!existsSync(file)) throw new StartError(`${file}: the file is not there`);
  return { cert: resolve(cert), key: resolve(key) };
}

function folderOf(path: string): string {
  if (!existsSync(path)) throw new StartError(`--folder ${path}: it is not there`);
  return realpathSync(path);
}
