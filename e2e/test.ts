import { test as base } from '@playwright/test';
import { portOf } from './ports.ts';

/**
 * Tests run beside each other, each with a server and a studio of its own: none finds a piece that another changed. The
 * picture of the Stand is not refined at rest, which takes a processor, where a test does not ask for it.
 */
export const test = base.extend<{ refines: boolean }>({
  refines: [false, { option: true }],
  // eslint-disable-next-line no-empty-pattern -- Playwright reads what a fixture needs from this pattern
  baseURL: async ({}, use, info) => use(`http://127.0.0.1:${portOf(info.parallelIndex)}`),
  context: async ({ context, refines }, use) => {
    if (!refines)
      await context.addInitScript(() => {
        try {
          localStorage.setItem('refines', 'no');
        } catch {
          // a page of no origin
        }
      });
    await use(context);
  },
});
