import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	compilerOptions: { runes: ({ filename }) => (filename.includes('node_modules') ? undefined : true) },
	kit: {
		adapter: adapter({ out: 'build' }),
		alias: { $core: 'src/core' },
		// A bench view is a link: it must open the same place wherever the application is served from.
		paths: { relative: false },
		csp: { directives: { 'script-src': ['self'], 'object-src': ['none'], 'base-uri': ['self'] } },
		typescript: {
			config: (config) => ({
				...config,
				include: [
					...config.include,
					'../bench/**/*.ts',
					'../demo/**/*.ts',
					'../tests/**/*.ts',
					'../scripts/**/*.ts',
				],
			}),
		},
	},
};
