/** As many as there are cores on the smallest machine that runs these. */
export const WORKERS = 2;
const FIRST = Number(process.env['E2E_PORT'] ?? '4871');

/** Where the server of a worker listens. */
export const portOf = (worker: number): number => FIRST + worker;
