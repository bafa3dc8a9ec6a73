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
		csp: {
			directives: {
				'default-src': ['self'],
				'script-src': ['self'],
				'style-src': ['self'],
				// Positions and colours of charts and of what is drawn to scale are written where they belong.
				'style-src-attr': ['unsafe-inline'],
				'img-src': ['self', 'data:', 'blob:'],
				'font-src': ['self', 'data:'],
				'connect-src': ['self'],
				'worker-src': ['self', 'blob:'],
				'object-src': ['none'],
				'base-uri': ['self'],
				'form-action': ['self'],
				'frame-ancestors': ['none'],
			},
		},
		// `server/http/origin-check.ts` looks at every unsafe call before any route does, forms among them.
		csrf: { trustedOrigins: ['*'] },
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
