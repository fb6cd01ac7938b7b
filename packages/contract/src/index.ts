export { z } from './zod.ts';
export * from './ids.ts';
export * from './strokes.ts';
export * from './piece.ts';
export { stepSchema } from './steps.ts';
export * from './job.ts';
export * from './folders.ts';
export * from './studio.ts';
export * from './recipes.ts';
