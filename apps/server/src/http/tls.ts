import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join } from 'node:path';
import { generate } from 'selfsigned';

/** What a TLS server is started with. */
export interface Certificate {
  cert: string;
  key: string;
}

/** Files of a certificate, one made at the first start, or plain HTTP. */
export type Tls = { cert: string; key: string } | 'self-made' | null;

const DAYS = 3650;

/**
 * The certificate of the options; null for plain HTTP. A self-made one is made at the first start, for these names, and
 * kept in the folder; browsers ask once whether they should trust it.
 */
export async function certificateOf(tls: Tls, folder: string, names: readonly string[]): Promise<Certificate | null> {
  if (tls === null) return null;
  if (tls !== 'self-made') return { cert: readFileSync(tls.cert, 'utf8'), key: readFileSync(tls.key, 'utf8') };
  const files = { cert: join(folder, 'tls', 'certificate.pem'), key: join(folder, 'tls', 'key.pem') };
  if (!existsSync(files.cert) || !existsSync(files.key)) {
    mkdirSync(join(folder, 'tls'), { recursive: true });
    const { cert, private: key } = await make(names);
    writeFileSync(files.key, key, { mode: 0o600 });
    writeFileSync(files.cert, cert);
  }
  return { cert: readFileSync(files.cert, 'utf8'), key: readFileSync(files.key, 'utf8') };
}

function make(names: readonly string[]) {
  const bare = names.map((name) => name.replace(/^\[|\]$/g, ''));
  const altNames = bare.map((name) =>
    isIP(name) ? { type: 7 as const, ip: name } : { type: 2 as const, value: name },
  );
  const notAfterDate = new Date(Date.now() + DAYS * 24 * 3600 * 1000);
  return generate([{ name: 'commonName', value: 'Lithe Sieve' }], {
    keyType: 'ec',
    algorithm: 'sha256',
    notAfterDate,
    extensions: [
      { name: 'basicConstraints', cA: false },
      { name: 'keyUsage', digitalSignature: true },
      { name: 'extKeyUsage', serverAuth: true },
      { name: 'subjectAltName', altNames },
    ],
  });
}
