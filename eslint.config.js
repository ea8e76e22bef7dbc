import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Of the running Stile: what may wait for something, or asks somebody else. */
const NOT_IN_TRANSACTIONS = [
	'db',
	'pool',
	'vital',
	'rights',
	'population',
	'site',
	'payments',
	'mailer',
	'storage',
	'bucket',
	'outbound',
	'transcoder',
	'pictures',
	'geography'
];

/** Components that the front is made of: what they say comes from its catalogues. */
const OF_FRONT = [
	'ErrorBox',
	'ErrorSummary',
	'Field',
	'FileBox',
	'ItemGrid',
	'LabelList',
	'Moment',
	'Notice',
	'Outline',
	'PlanOffer',
	'Player',
	'PlayerBar',
	'RichTextView',
	'Saved',
	'StateMark',
	'WayIn',
	'Words'
];
const BARE_TEXT = 'What the front says stands in its catalogues: words().say(…), or <Words>.';

/** Use cases that give a result: who calls one looks at it. */
const WITH_RESULT = readdirSync('src/server/usecases', { recursive: true, encoding: 'utf8' })
	.filter((path) => path.endsWith('.ts') && !path.endsWith('.test.ts'))
	.flatMap((path) => [
		...readFileSync(join('src/server/usecases', path), 'utf8').matchAll(
			/export async function (\w+)[\s\S]*?\): Promise<([\s\S]*?)> \{\n/g
		)
	])
	// An id says where to find what was made; there is nothing in it to look at.
	.filter(([, , gives]) => gives !== 'void' && gives !== 'string')
	.map(([, name]) => name);

const OF_SERVER = [
	{
		selector: "CallExpression[callee.property.name='formData']",
		message: 'Forms are read by readForm, once and within bounds.'
	},
	{
		// A second connection, a cache that may be cold, a call to the outside: all wait while rows are locked.
		selector: `CallExpression[callee.name=/^(transact|saveRehearsed|showing|onAsset|taking)$/] > :function MemberExpression[object.name='app'][property.name=/^(${NOT_IN_TRANSACTIONS.join('|')})$/]`,
		message: 'Within a transaction there is only `work`: read this before, and hand it in.'
	},
	{
		selector: ":function > Identifier[name='app'] ~ [typeAnnotation.typeAnnotation.typeName.name='Work']",
		message: 'What works within a transaction is handed what it needs, and not the whole of Stile.'
	},
	{
		selector:
			"ExportNamedDeclaration > FunctionDeclaration:has(> Identifier[typeAnnotation.typeAnnotation.typeName.name='Staff']):not(:has(ExpressionStatement > CallExpression[callee.name='need']))",
		message: 'What staff do begins with need(actor, permission).'
	}
];

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
		files: [
			'src/routes/(front)/**/*.svelte',
			'src/routes/embed/**/*.svelte',
			...OF_FRONT.map((name) => `src/ui/components/${name}.svelte`)
		],
		rules: {
			'no-restricted-syntax': [
				'error',
				{ selector: ':not(SvelteStyleElement) > SvelteText[value=/[A-Za-z]{2}/]', message: BARE_TEXT },
				{
					selector:
						'SvelteAttribute[key.name=/^(aria-label|title|label|hint|placeholder|alt)$/] > SvelteLiteral[value=/[A-Za-z]{2}/]',
					message: BARE_TEXT
				}
			]
		}
	},
	{
		files: ['src/routes/**/*.ts', 'src/server/**/*.ts'],
		ignores: ['src/server/http/parse.ts', 'src/server/people/need.ts', '**/*.test.ts'],
		rules: { 'no-restricted-syntax': ['error', ...OF_SERVER] }
	},
	{
		files: ['src/routes/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'no-restricted-syntax': [
				'error',
				...OF_SERVER,
				{
					selector: `ExpressionStatement > AwaitExpression > CallExpression[callee.name=/^(${WITH_RESULT.join('|')})$/]`,
					message: 'What a use case answers is looked at: it may have done nothing.'
				}
			]
		}
	},
	{
		files: ['src/{ui,routes}/**/*.{ts,svelte}'],
		ignores: ['src/ui/refresh.ts'],
		rules: {
			'no-restricted-imports': [
				'error',
				{
					paths: [
						{
							name: '$app/navigation',
							importNames: ['invalidate', 'invalidateAll'],
							message: 'They drop a navigation that is under way: refresh() waits for it.'
						}
					]
				}
			]
		}
	},
	{
		files: ['src/server/{usecases,reads,rights,people,mail}/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'no-restricted-imports': [
				'error',
				{
					patterns: [
						{
							group: ['**/app'],
							importNames: ['App'],
							message: 'Say what is needed of the running Stile: Using<…>.'
						}
					]
				}
			]
		}
	},
	{
		files: ['src/routes/**/*.ts', 'src/server/http/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'no-restricted-properties': [
				'error',
				...['db', 'pool', 'vital'].map((property) => ({
					object: 'app',
					property,
					message: 'The web asks reads and use cases, and no database.'
				}))
			]
		}
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
