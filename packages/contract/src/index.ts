export * from './piece.ts';
export * from './job.ts';
export * from './folders.ts';
