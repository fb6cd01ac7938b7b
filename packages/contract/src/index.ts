export * from './piece.ts';
export * from './job.ts';
