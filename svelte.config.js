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
		alias: { $core: 'src/core', $server: 'src/server', $ui: 'src/ui', $words: 'src/words' },
		// The check stands in front of the kit (src/server/http/front.ts), where it also covers bytes and uploads.
		// What only a running Stile knows is added in src/server/http/security-headers.ts.
		csp: {
			mode: 'nonce',
			directives: {
				'default-src': ['self'],
				'script-src': ['self'],
				'style-src': ['self'],
				'style-src-attr': ['unsafe-inline'],
				'img-src': ['self', 'data:', 'blob:'],
				'media-src': ['self', 'blob:'],
				'connect-src': ['self'],
				'worker-src': ['self', 'blob:'],
				// A link may show what lies elsewhere within its page.
				'frame-src': ['self', 'https:', 'http:'],
				'object-src': ['none'],
				'base-uri': ['none'],
				'form-action': ['self']
			}
		},
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
