import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** No violation of WCAG 2.0 to 2.2, A and AA, and of the checker's own best practices, on the page as it is. */
export async function expectAccessible(page: Page, what: string): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  const found = violations.map(
    ({ id, nodes }) => `${what}: ${id}: ${nodes.map((n) => n.target.join(' ')).join(' | ')}`,
  );
  expect(found).toEqual([]);
}
