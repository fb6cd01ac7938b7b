import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const MAIN = fileURLToPath(new URL('../apps/server/dist/main.js', import.meta.url));

/** An answer that has not come by then is a hang. */
export const HANG_MS = 20_000;

export interface Answer {
  /** 0: none came, since the server went. */
  status: number;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- answers are checked by the caller
  json: any;
  bytes: Buffer;
  /** It did not come within {@link HANG_MS}. */
  hung: boolean;
}

/** From one look at the memory of a server to the next, and after its start until it counts as idle. */
const LOOK_MS = 100;
const IDLE_MS = 500;

/** A built server on a folder, as its own process, to be killed, stopped and asked. */
export class Studio {
  private process: ChildProcess | null = null;
  private port = 0;
  /** Megabytes that any server took at the most above what it took idle, since this was set to 0. */
  static mostAboveIdle = 0;
  /** Everything it printed since its start. */
  printed = '';

  constructor(readonly folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-torture-'))) {}

  /** Resolves when it listens; false where it ended instead. */
  async start(options: string[] = [], env: Record<string, string> = {}): Promise<boolean> {
    const args = [MAIN, '--data', this.folder, '--port', '0', '--backup-hours', '0', ...options];
    const child = spawn(process.execPath, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
    this.process = child;
    this.printed = '';
    return new Promise((resolve) => {
      const hear = (chunk: Buffer) => {
        this.printed += chunk.toString();
        const found = /"address":"https?:\/\/[^:]+:(\d+)/.exec(this.printed);
        if (!found) return;
        this.port = Number(found[1]);
        if (this.process === child) this.watch(child);
        resolve(true);
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      child.on('close', () => resolve(false));
    });
  }

  private watch(child: ChildProcess): void {
    const started = performance.now();
    let idle = Infinity;
    const timer = setInterval(() => {
      const now = this.memoryMb;
      if (now === 0) return;
      if (performance.now() - started < IDLE_MS) idle = Math.min(idle, now);
      else if (idle < Infinity) Studio.mostAboveIdle = Math.max(Studio.mostAboveIdle, now - idle);
    }, LOOK_MS);
    timer.unref();
    child.once('close', () => clearInterval(timer));
  }

  /** What a power button does to the process. */
  async kill(): Promise<void> {
    await this.end('SIGKILL');
  }

  async stop(): Promise<void> {
    await this.end('SIGTERM');
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const child = this.process;
    this.process = null;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once('close', resolve));
    child.kill(signal);
    await ended;
  }

  get running(): boolean {
    return this.process !== null && this.process.exitCode === null && this.process.signalCode === null;
  }

  get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Megabytes that it takes at this moment, by what the system says; 0 where it says nothing. */
  get memoryMb(): number {
    try {
      const status = readFileSync(`/proc/${this.process?.pid}/status`, 'utf8');
      return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024;
    } catch {
      return 0;
    }
  }

  remove(): void {
    rmSync(this.folder, { recursive: true, force: true });
  }

  call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
    const raw = body instanceof Uint8Array;
    const payload = body === undefined ? undefined : raw ? body : JSON.stringify(body);
    const type: Record<string, string> = body === undefined || raw ? {} : { 'Content-Type': 'application/json' };
    const none = (hung: boolean): Answer => ({ status: 0, json: null, bytes: Buffer.alloc(0), hung });
    return new Promise((resolve) => {
      const late = setTimeout(() => {
        asked.destroy();
        resolve(none(true));
      }, HANG_MS);
      const asked = request(
        { port: this.port, host: '127.0.0.1', method, path, headers: { ...type, ...headers }, agent: false },
        (response) => {
          const parts: Buffer[] = [];
          response.on('data', (part: Buffer) => parts.push(part));
          response.on('error', () => resolve(none(false)));
          response.on('close', () => {
            clearTimeout(late);
            if (!response.complete) return resolve(none(false));
            const bytes = Buffer.concat(parts);
            resolve({ status: response.statusCode ?? 0, json: readJson(bytes), bytes, hung: false });
          });
        },
      );
      asked.on('error', () => {
        clearTimeout(late);
        resolve(none(false));
      });
      asked.end(payload);
    });
  }

  get(path: string): Promise<Answer> {
    return this.call('GET', `/api${path}`);
  }

  async bringIn(bytes: Uint8Array, name = 'a.png'): Promise<Answer> {
    return this.call('POST', `/api/sources?name=${encodeURIComponent(name)}`, bytes);
  }

  async newPiece(name: string, sha256: string): Promise<string> {
    const sources = [{ sha256, fileName: 'a.png' }];
    return (await this.call('POST', '/api/pieces', { name, sources })).json?.id as string;
  }

  /** The cutoff set, as an edit on a revision. */
  cutoff(id: string, baseRevision: number, from: number, to: number, editId: string): Promise<Answer> {
    const patch = (value: number) => [{ op: 'replace', path: ['material', 'cutoff'], value }];
    const entry = { label: 'cutoff', patches: patch(to), inverse: patch(from) };
    return this.call('POST', `/api/pieces/${id}/edits`, { kind: 'do', baseRevision, editId, entry });
  }
}

function readJson(bytes: Buffer): unknown {
  try {
    return JSON.parse(bytes.toString());
  } catch {
    return null;
  }
}
