import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { type Plugin, runnerImport } from 'vite';
import { defineConfig } from 'vitest/config';

/**
 * Components of Flowbite Svelte that take others from its barrel take them from their own files instead: the barrel would have all of
 * them compiled, most of what a build takes.
 */
const componentsBySingleFiles: Plugin = {
	name: 'components-by-single-files',
	enforce: 'pre',
	transform: {
		filter: { id: /flowbite-svelte\/dist\/.*\.svelte$/ },
		handler: (code) =>
			code.replace(/import \{([\w\s,]+)\} from "\.\.";/g, (_, names: string) =>
				names
					.split(',')
					.map((name) => `import ${name.trim()} from "flowbite-svelte/${name.trim()}.svelte";`)
					.join(''),
			),
	},
};

/** Every page and every call says whom it is for, or nothing is built. */
const declaredForSomebody: Plugin = {
	name: 'declared-for-somebody',
	apply: 'build',
	async buildStart() {
		const resolve = { alias: { $core: fileURLToPath(new URL('src/core', import.meta.url)) } };
		const declared = async <T>(file: string) =>
			(await runnerImport<T>(file, { configFile: false, resolve, logLevel: 'error' })).module;
		const { CALLS } = await declared<typeof import('./src/lib/wire/calls')>('./src/lib/wire/calls.ts');
		const { PAGES } = await declared<typeof import('./src/lib/wire/pages')>('./src/lib/wire/pages.ts');
		const missing = readdirSync('src/routes', { recursive: true, encoding: 'utf8' }).flatMap((file) => {
			const [, folder, kind] = /^(.*?)\/?\+(page|server)(?:\.server)?\.(?:ts|svelte)$/.exec(file) ?? [];
			if (kind === undefined) return [];
			if (kind === 'page') return `/${folder}` in PAGES ? [] : [`the page /${folder}`];
			const route = `/${folder}`.replace('/api/v1', '');
			const methods = readFileSync(`src/routes/${file}`, 'utf8').matchAll(
				/export (?:const|(?:async )?function) (GET|POST|PUT|PATCH|DELETE|OPTIONS|HEAD|fallback)\b/g,
			);
			return [...methods].flatMap(([, method]) => {
				const key = `${method} ${route}`;
				return key in CALLS && `/${folder}`.startsWith('/api/v1/') ? [] : [`the call ${key}`];
			});
		});
		if (missing.length > 0)
			this.error(`src/lib/wire/pages.ts and calls.ts do not say whom these are for: ${missing.join(', ')}`);
	},
};

const WORKER_ADDRESS = "new URL('./evaluate.worker.ts', import.meta.url)";
const worker = { entry: '', files: new Set<string>() };

/**
 * The worker is built as one more entry of the pages: by itself it would have its own copy of all that it shares with them, and each
 * would be transferred twice.
 */
const workerWithPages: Plugin = {
	name: 'worker-with-pages',
	apply: 'build',
	enforce: 'pre',
	applyToEnvironment: ({ name }) => name === 'client',
	transform: {
		filter: { id: /browser-worker\/arithmetic\.ts$/ },
		async handler(code, importer) {
			const found = await this.resolve('./evaluate.worker', importer);
			worker.entry = this.emitFile({ type: 'chunk', id: found!.id });
			return code.replace(WORKER_ADDRESS, `import.meta.ROLLUP_FILE_URL_${worker.entry}`);
		},
	},
	generateBundle(_, bundle) {
		const reach = (file: string) => {
			const chunk = bundle[file];
			if (worker.files.has(file) || chunk?.type !== 'chunk') return;
			worker.files.add(file);
			[...chunk.imports, ...chunk.dynamicImports].forEach(reach);
		};
		reach(this.getFileName(worker.entry));
	},
};

/** What a page imports is looked for ahead of time by links in its head; a worker has none. */
const preloads = (_: string, files: string[], { hostId }: { hostId: string }) =>
	worker.files.has(hostId) ? [] : files;

/** Licences of what is bundled stand once in a file that is served, not in every script that was made of it. */
const WITHOUT_LICENCES = { comments: { legal: false } };

const plugins = [declaredForSomebody, tailwindcss(), componentsBySingleFiles, workerWithPages, sveltekit()];

export default defineConfig({
	plugins,
	build: {
		chunkSizeWarningLimit: 900,
		modulePreload: { resolveDependencies: preloads },
		license: { fileName: 'licences.md' },
		rolldownOptions: { output: WITHOUT_LICENCES },
	},
	test: {
		// What a test puts in place of the browser's or the machine's is gone before the next one.
		unstubGlobals: true,
		unstubEnvs: true,
		// Printed and read: npm run coverage.
		coverage: {
			include: ['src/core/**/*.ts', 'src/lib/**/*.ts'],
			exclude: ['**/*.test.ts'],
			reporter: ['text'],
		},
		projects: [
			{
				extends: true,
				test: {
					name: 'unit',
					include: ['src/**/*.test.ts', 'demo/*.test.ts'],
					setupFiles: ['tests/support/drawn.ts'],
					// Nothing here keeps state: files need no process of their own.
					pool: 'threads',
					isolate: false,
					environment: 'node',
					// A machine that does other things too is slow, not wrong.
					testTimeout: 200_000,
				},
			},
			{
				extends: true,
				test: {
					name: 'database',
					include: ['tests/database/**/*.test.ts'],
					environment: 'node',
					globalSetup: ['tests/support/template.ts'],
					// A machine that does other things too is slow, not wrong; what a test waits for has limits of its own.
					testTimeout: 300_000,
					hookTimeout: 300_000,
				},
			},
			{
				extends: true,
				test: {
					name: 'browser',
					include: ['tests/browser/**/*.test.ts'],
					environment: 'node',
					globalSetup: ['tests/support/template.ts'],
					testTimeout: 400_000,
					hookTimeout: 300_000,
				},
			},
		],
	},
});
