import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './scripts/lib/browser.mjs';

export default defineConfig({
	testDir: 'tests/e2e',
	outputDir: '.stile/test/playwright',
	// One story on one installation, told in order.
	workers: 1,
	fullyParallel: false,
	projects: [
		// On an installation of its own.
		{ name: 'first-sale', testMatch: 'first-sale.spec.ts' },
		{ name: 'story', testMatch: 'story.spec.ts' },
		{ name: 'fences', testMatch: 'fences.spec.ts', dependencies: ['story'] },
		{ name: 'media', testMatch: 'media.spec.ts', dependencies: ['fences'] },
		{ name: 'attacks', testMatch: 'attacks.spec.ts', dependencies: ['media'] },
		{ name: 'outline', testMatch: 'outline.spec.ts', dependencies: ['attacks'] },
		{ name: 'quality', testMatch: 'quality.spec.ts', dependencies: ['outline'] },
		{ name: 'terms', testMatch: 'terms.spec.ts', dependencies: ['quality'] },
		{ name: 'buying', testMatch: 'buying.spec.ts', dependencies: ['terms'] },
		{ name: 'signing-in', testMatch: 'signing-in.spec.ts', dependencies: ['buying'] },
		{ name: 'charging', testMatch: 'charging.spec.ts', dependencies: ['signing-in'] }
	],
	timeout: 180_000,
	expect: { timeout: 30_000 },
	reporter: [['line'], ['json', { outputFile: '.stile/test/e2e.json' }]],
	use: {
		baseURL: process.env.STILE_E2E_FRONT,
		viewport: { width: 1280, height: 800 },
		locale: 'en-GB',
		screenshot: 'only-on-failure',
		launchOptions: CHROMIUM
	}
});
