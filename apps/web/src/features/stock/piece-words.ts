import type { PieceSummary } from '@lithe-sieve/contract';

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** When it was handed off or changed last, in words. */
export function changedAt({ handedOffAt, updatedAt }: PieceSummary): string {
  return handedOffAt ? `handed off ${day.format(new Date(handedOffAt))}` : `changed ${day.format(new Date(updatedAt))}`;
}
