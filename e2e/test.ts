import { test as base } from '@playwright/test';
import { portOf } from './ports.ts';

/** Tests run beside each other, each with a server and a studio of its own: none finds a piece that another changed. */
export const test = base.extend({
  // eslint-disable-next-line no-empty-pattern -- Playwright reads what a fixture needs from this pattern
  baseURL: async ({}, use, info) => use(`http://127.0.0.1:${portOf(info.parallelIndex)}`),
});
