/**
 * `npm run mutants`: small changes to the core, one at a time, and whether its tests see them. `MUTANTS_OF=billing` names
 * one of its folders.
 */
const folders = (process.env.MUTANTS_OF ?? 'access,billing,media').split(',');

export default {
	testRunner: 'vitest',
	plugins: ['@stryker-mutator/vitest-runner'],
	vitest: { configFile: 'vitest.mutants.config.ts' },
	mutate: folders.flatMap((folder) => [`src/core/${folder}/**/*.ts`, `!src/core/${folder}/**/*.test.ts`]),
	ignorePatterns: [
		'!.svelte-kit',
		'.stile',
		'build',
		'docs',
		'demo',
		'/src/routes',
		'/src/server/db/migrations'
	],
	tempDirName: '.stile/mutants',
	incremental: true,
	incrementalFile: `.stile/mutants-${folders.join('-')}.json`,
	reporters: ['progress-append-only', 'clear-text', 'json'],
	jsonReporter: { fileName: `.stile/mutants-${folders.join('-')}-report.json` },
	clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
	coverageAnalysis: 'perTest',
	concurrency: 2,
	timeoutMS: 20_000,
	thresholds: { break: 85 }
};
