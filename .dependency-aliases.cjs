/** The aliases of svelte.config.js, for the dependency check. */
const src = `${__dirname}/src`;

module.exports = {
	resolve: {
		alias: { $core: `${src}/core`, $server: `${src}/server`, $ui: `${src}/ui`, $words: `${src}/words` }
	}
};
