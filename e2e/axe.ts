import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/**
 * No violation of WCAG 2.0 to 2.2, A and AA, and of the checker's own best practices, on the page as it is.
 *
 * @param within - The part alone that changed since the whole page was looked at.
 * @param rules - These alone, where nothing else can differ from what was looked at.
 */
export async function expectAccessible(page: Page, what: string, within?: string, rules?: string[]): Promise<void> {
  // its older way runs in this page alone: the other one opens a page each time to join what frames say, and there are none
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  if (within) axe.include(within);
  if (rules) axe.withRules(rules);
  const { violations } = await axe.analyze();
  const found = violations.map(
    ({ id, nodes }) => `${what}: ${id}: ${nodes.map((n) => n.target.join(' ')).join(' | ')}`,
  );
  expect(found).toEqual([]);
}
