import { z } from './zod.ts';

export const idSchema = z.string().regex(/^[A-Za-z0-9_-]{6,40}$/);
export const sha256Schema = z.string().regex(/^[0-9a-f]{64}$/);

/** Longest path of common systems. */
export const pathSchema = z.string().min(1).max(4096);
