export function inMegabytes(bytes: number): string {
  return `${(bytes / 1e6).toFixed(bytes < 1e6 ? 2 : 1)} MB`;
}
