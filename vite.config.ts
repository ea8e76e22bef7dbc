import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	plugins: [tailwindcss(), sveltekit()],
	// class-validator's decorators; the bundler does not find this setting in tsconfig by itself.
	oxc: { decorator: { legacy: true } },
	build: { chunkSizeWarningLimit: 700 },
	test: {
		// What a file imports is read once for all of them: no test leaves anything behind in a module.
		projects: [
			{
				extends: true,
				test: {
					name: 'unit',
					include: ['src/**/*.test.ts', 'tests/outside/**/*.test.ts'],
					isolate: false,
					testTimeout: 120_000
				}
			},
			{
				extends: true,
				test: {
					name: 'database',
					include: ['tests/database/**/*.test.ts'],
					globalSetup: 'tests/database/scratch-folder.ts',
					isolate: false,
					fileParallelism: false,
					testTimeout: 120_000,
					hookTimeout: 180_000
				}
			}
		]
	}
});
