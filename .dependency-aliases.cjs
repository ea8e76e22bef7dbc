/** The aliases of svelte.config.js, for the dependency check. */
module.exports = {
	resolve: {
		alias: { $core: `${__dirname}/src/core`, $server: `${__dirname}/src/server`, $ui: `${__dirname}/src/ui` }
	}
};
