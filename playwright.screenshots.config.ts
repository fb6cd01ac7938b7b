import { defineConfig } from '@playwright/test';
import config from './playwright.config.ts';

/** Takes the pictures of docs/screenshots again, from the demo data. */
const screenshots: ReturnType<typeof defineConfig> = {
  ...config,
  testDir: 'docs',
  testMatch: 'screenshots.ts',
  workers: 1,
  reporter: [['list']],
};
export default screenshots;
