import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default ts.config(
	{ ignores: ['.svelte-kit/', 'build/', '.stile/', 'test-results/', 'node_modules/'] },
	js.configs.recommended,
	...ts.configs.recommended,
	...svelte.configs.recommended,
	prettier,
	...svelte.configs.prettier,
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'no-undef': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			// Stile is served from the root of its own address; paths are written as they are.
			'svelte/no-navigation-without-resolve': 'off'
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { extraFileExtensions: ['.svelte'], parser: ts.parser, svelteConfig } }
	},
	{
		files: ['src/core/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'no-restricted-globals': [
				'error',
				'fetch',
				'process',
				'window',
				'document',
				'setTimeout',
				'performance',
				'crypto'
			],
			'no-restricted-properties': [
				'error',
				{ object: 'Date', property: 'now', message: 'The core is told the time.' },
				{ object: 'Math', property: 'random', message: 'The core knows no chance.' }
			],
			'no-restricted-syntax': [
				'error',
				{
					selector: "NewExpression[callee.name='Date'][arguments.length=0]",
					message: 'The core is told the time.'
				},
				{
					selector: "MemberExpression[object.name='Temporal'][property.name='Now']",
					message: 'The core is told the time.'
				}
			]
		}
	}
);
