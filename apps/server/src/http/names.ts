import { hostname, networkInterfaces } from 'node:os';

const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];

/** Only this machine reaches a server that listens there. */
export function isLoopback(host: string): boolean {
  return LOOPBACK.includes(host) || host === '::1';
}

/** Every address of the machine. */
export function listensEverywhere(host: string): boolean {
  return host === '0.0.0.0' || host === '::';
}

/** An address as it stands in a URL. */
export function inUrl(host: string): string {
  return host.includes(':') && !host.startsWith('[') ? `[${host}]` : host;
}

/** The names and addresses that a server which listens at `host` is reached by, and those it was given. */
export function namesOf(host: string, given: readonly string[]): string[] {
  const own = listensEverywhere(host) ? [hostname(), ...addresses()] : [host];
  return [...new Set([...LOOPBACK, ...own, ...given].map((name) => inUrl(name).toLowerCase()))];
}

/** Addresses of this machine in its networks. */
function addresses(): string[] {
  return Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map((i) => i.address));
}
