import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

/** What runs beside the application's own build: the program that serves it, the work of its threads, status made anew, and the demo data. */
export default defineConfig({
	resolve: { alias: { $core: fileURLToPath(new URL('src/core', import.meta.url)) } },
	// In one piece each: a thread that is started anew must not look for hundreds of files.
	ssr: { noExternal: true, external: ['piscina', 'compression', 'pg', 'pino', 'graphile-worker'] },
	build: {
		ssr: true,
		outDir: 'build',
		emptyOutDir: false,
		rolldownOptions: {
			input: {
				main: 'src/serve/main.ts',
				work: 'src/lib/server/threads/work.ts',
				status: 'src/serve/status.ts',
				worker: 'src/serve/worker.ts',
				demo: 'src/serve/demo.ts',
			},
		},
	},
});
