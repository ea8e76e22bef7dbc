import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	compilerOptions: {
		runes: ({ filename }) => (filename.includes('node_modules') ? undefined : true)
	},
	kit: {
		adapter: adapter({ out: 'build', envPrefix: '' }),
		alias: { $core: 'src/core', $server: 'src/server', $ui: 'src/ui' },
		// The check stands in front of the kit (src/server/http/front.ts), where it also covers bytes and uploads.
		csrf: { trustedOrigins: ['*'] },
		typescript: {
			config: (config) => {
				config.include.push(
					'../standins/**/*.ts',
					'../demo/**/*.ts',
					'../tests/**/*.ts',
					'../bench/**/*.ts',
					'../*.ts'
				);
				return config;
			}
		}
	}
};
