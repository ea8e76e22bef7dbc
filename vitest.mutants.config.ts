import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The core alone, without the kit: what `npm run mutants` runs its tests by. */
export default defineConfig({
	resolve: { alias: { $core: at('./src/core'), $server: at('./src/server'), $ui: at('./src/ui') } },
	test: {
		include: ['src/core/**/*.test.ts', 'tests/outside/**/*.test.ts'],
		testTimeout: 30_000,
		env: { STILE_SHARE_OF_RUNS: '0.1' }
	}
});
