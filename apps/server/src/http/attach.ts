import type { Response } from 'express';

/** Says that the answer is a file to be kept. */
export function attach(response: Response, name: string, type: string): void {
  response.set({ 'Content-Type': type, 'Content-Disposition': `attachment; filename="${name}"` });
}
