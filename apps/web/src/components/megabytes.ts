/** A number of bytes as people read it. */
export function inMegabytes(bytes: number): string {
  if (bytes === 0) return '0';
  if (bytes < 1e5) return `${(bytes / 1e3).toFixed(bytes < 1e4 ? 1 : 0)} kB`;
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(1)} GB`;
  return `${(bytes / 1e6).toFixed(bytes < 1e6 ? 2 : 1)} MB`;
}
