import { existsSync, realpathSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';

export interface ServerOptions {
  /** Folder of the studio; made if absent. */
  data: string;
  host: string;
  port: number;
  /** Folders whose files may be followed. */
  folders: string[];
  /** Draw the demo pieces into an empty studio. */
  demo: boolean;
}

/** @throws Error that says which option is wrong. */
export function readOptions(args: string[]): ServerOptions {
  const { values } = parseArgs({
    args,
    options: {
      data: { type: 'string', default: './lithe-sieve-data' },
      host: { type: 'string', default: '127.0.0.1' },
      port: { type: 'string', default: '4870' },
      folder: { type: 'string', multiple: true, default: [] },
      demo: { type: 'boolean', default: false },
    },
  });
  const port = Number(values.port);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`--port ${values.port}: expected 0 to 65535`);
  return {
    data: resolve(values.data),
    host: values.host,
    port,
    folders: values.folder.map(folderOf),
    demo: values.demo,
  };
}

function folderOf(path: string): string {
  if (!existsSync(path)) throw new Error(`--folder ${path}: it is not there`);
  return realpathSync(path);
}
