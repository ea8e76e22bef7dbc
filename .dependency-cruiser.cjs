/** The folder tree is the architecture: core → nothing; server and ui → core, words; words → nothing; routes → all; nothing → routes. */
const only = (name, from, allowed) => ({
	name,
	severity: 'error',
	from: { path: `^src/${from}/`, pathNot: '\\.test\\.ts$' },
	to: { path: '^src/', pathNot: `^src/(${[from, ...allowed].join('|')})/` }
});

/** Inside the server, too: what a folder may import of the others. */
const layer = (from, allowed) => ({
	name: `layer-${from}`,
	severity: 'error',
	from: { path: `^src/server/${from}/`, pathNot: '\\.test\\.ts$' },
	to: { path: '^src/server/[^/]+/', pathNot: `^src/server/(${[from, ...allowed].join('|')})/` }
});

module.exports = {
	forbidden: [
		only('core-imports-nothing-of-ours', 'core', []),
		only('words-import-nothing-of-ours', 'words', []),
		only('server-imports-core', 'server', ['core', 'words']),
		only('ui-imports-core', 'ui', ['core', 'words']),
		layer('db', []),
		layer('ports', []),
		layer('adapters', ['ports']),
		layer('rights', ['db', 'ports']),
		layer('people', ['db', 'ports', 'rights']),
		layer('usecases', ['db', 'ports', 'people', 'rights', 'jobs']),
		layer('reads', ['db', 'ports', 'people', 'rights']),
		layer('mail', ['db', 'ports', 'usecases']),
		layer('http', ['ports', 'people', 'rights', 'usecases', 'reads']),
		{
			name: 'routes-ask-no-database',
			severity: 'error',
			comment: 'Routes → web, use cases, reads.',
			from: { path: '^src/routes/', pathNot: '\\.test\\.ts$' },
			to: {
				path: '^src/server/',
				pathNot: '^src/server/(http|usecases|reads|mail|jobs)/|^src/server/revision'
			}
		},
		{
			name: 'core-is-pure',
			severity: 'error',
			comment: 'No interface, server, database, file system or network in the core.',
			from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
			to: {
				dependencyTypes: ['npm', 'npm-dev', 'npm-peer', 'npm-optional', 'core'],
				// Calendars and linear patterns: computation, without effects.
				pathNot: 'node_modules/(temporal-polyfill|re2js|ipaddr\\.js|stdnum)'
			}
		},
		{
			name: 'ui-stays-in-the-browser',
			severity: 'error',
			from: { path: '^src/ui/' },
			to: { dependencyTypes: ['core'] }
		},
		{
			name: 'nothing-imports-routes',
			severity: 'error',
			from: { pathNot: '^src/routes/' },
			to: { path: '^src/routes/' }
		},
		{ name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
		{
			name: 'resolvable',
			severity: 'error',
			from: {},
			to: { couldNotResolve: true, pathNot: '^\\$(app|env)/|^\\./\\$types' }
		}
	],
	options: {
		doNotFollow: { path: 'node_modules' },
		tsPreCompilationDeps: true,
		webpackConfig: { fileName: '.dependency-aliases.cjs' },
		enhancedResolveOptions: {
			exportsFields: ['exports'],
			conditionNames: ['svelte', 'import', 'node', 'default']
		}
	}
};
