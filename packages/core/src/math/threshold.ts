/**
 * Smallest 8-bit alpha that is kept: glTF 2.0 §3.9.4, kept where alpha · factor ≥ cutoff, alpha = byte / 255.
 *
 * @param cutoff - 0–1.
 * @param opacity - The material's opacity factor, 0–1.
 * @returns 0 (all kept) to 256 (none kept).
 */
export function thresholdByte(cutoff: number, opacity = 1): number {
  if (cutoff <= 0) return 0;
  if (opacity <= 0) return 256;
  let byte = Math.min(256, Math.max(0, Math.ceil((cutoff / opacity) * 255)));
  while (byte > 0 && ((byte - 1) / 255) * opacity >= cutoff) byte--;
  while (byte < 256 && (byte / 255) * opacity < cutoff) byte++;
  return byte;
}
