/** Who may import whom; docs/architecture.md says why. */
const forbid = (name, from, to, comment) => ({ name, comment, severity: 'error', from, to });
const notTest = '\\.test\\.ts$';

/** Folders of the core, each resting only on those before it. */
const CORE = [
	'numbers',
	'series',
	'accuracy',
	'contract',
	'diagnosis',
	'seasons',
	'search',
	'working',
	'methods',
	'ranges',
	'grading',
	'words',
	'questions',
];

/** What the server does, each folder resting only on those before it. */
const SERVER = [
	'database',
	'access',
	'threads',
	'items',
	'bring-in',
	'records',
	'status',
	'list',
	'sweeps',
	'demo',
	'http',
];
/** What a user sees: first what several pages rest on; pages know nothing of each other. */
const UI = ['base', 'kit', 'export', 'frame', 'lists'];
const PAGES = ['access', 'bring-in', 'items', 'item', 'sweeps'];

/** One rule a folder: it rests on none of those after it. */
const inOrder = (name, base, folders, comment) =>
	folders
		.slice(0, -1)
		.map((folder, at) =>
			forbid(
				`${name}-${folder}`,
				{ path: `^${base}/${folder}/`, pathNot: notTest },
				{ path: `^${base}/(${folders.slice(at + 1).join('|')})/` },
				comment,
			),
		);

module.exports = {
	forbidden: [
		forbid('no-circular', {}, { circular: true }, 'A cycle hides which part rests on which.'),
		forbid(
			'core-is-alone',
			{ path: '^src/core/', pathNot: notTest },
			{ path: '^(src/(lib|routes)|demo|tests|scripts|bench)/' },
			'The arithmetic imports only itself.',
		),
		...inOrder('core', 'src/core', CORE, 'Folders of the core rest only on those before them.'),
		forbid(
			'core-root',
			{ path: '^src/core/[^/]+$', pathNot: notTest },
			{ path: '^src/core/[^/]+/' },
			'Bounds and the parts of schemas rest on nothing.',
		),
		forbid(
			'core-packages',
			{ path: '^src/core/', pathNot: notTest },
			{ path: 'node_modules/', pathNot: 'node_modules/(valibot|@stdlib)/' },
			'The arithmetic uses small numeric packages and the validator only.',
		),
		forbid(
			'core-and-reading-are-pure',
			{ path: '^src/(core|lib/reading)/', pathNot: notTest },
			{ dependencyTypes: ['core'] },
			'No Node, no file, no clock: these run in a browser worker too.',
		),
		forbid(
			'reading-imports',
			{ path: '^src/lib/reading/', pathNot: notTest },
			{ path: '^src/(lib/(?!reading/)|routes/)' },
			'Reading imports itself and the core.',
		),
		forbid(
			'reading-packages',
			{ path: '^src/lib/reading/', pathNot: notTest },
			{ path: 'node_modules/', pathNot: 'node_modules/(valibot|papaparse|fflate|read-excel-file)/' },
			'Reading uses small parsing packages only.',
		),
		forbid(
			'browser-worker-imports',
			{ path: '^src/lib/browser-worker/', pathNot: notTest },
			{ path: '^src/(lib/(?!reading/|browser-worker/)|routes/)' },
			'Workers put core and reading behind a message.',
		),
		forbid(
			'charts-imports',
			{ path: '^src/lib/charts/', pathNot: notTest },
			{ path: '^src/(lib/(?!reading/|charts/|reader)|routes/)' },
			'Charts are built from core figures, written as the reader writes them.',
		),
		...inOrder('ui', 'src/lib/ui', [...UI, `(${PAGES.join('|')})`], 'Parts of the interface know no page.'),
		...PAGES.map((page) =>
			forbid(
				`ui-${page}`,
				{ path: `^src/lib/ui/${page}/` },
				{ path: `^src/lib/ui/(${PAGES.filter((other) => other !== page).join('|')})/` },
				'What a user sees on one page knows nothing of the others.',
			),
		),
		...inOrder(
			'ui-item',
			'src/lib/ui/item',
			['state', 'parts', 'views'],
			'An item’s state knows no component.',
		),
		forbid(
			'ui-item-page',
			{ path: '^src/lib/ui/item/[^/]+/', pathNot: notTest },
			{ path: '^src/lib/ui/item/[^/]+$' },
			'A view does not know the page around it.',
		),
		...inOrder('server', 'src/lib/server', SERVER, 'Folders of the server rest only on those before them.'),
		forbid(
			'server-root',
			{ path: '^src/lib/server/[^/]+$', pathNot: notTest },
			{ path: '^src/lib/server/[^/]+/' },
			'Refusals, checks and the log rest on nothing of the server.',
		),
		forbid(
			'wire-imports',
			{ path: '^src/lib/wire/', pathNot: notTest },
			{ path: '^src/(lib/(?!reading/|wire/)|routes/)' },
			'What travels is described by core and reading.',
		),
		forbid(
			'server-stays-on-the-server',
			{ path: '^src/', pathNot: '^src/(routes|lib/server|serve)/|^src/(hooks\\.server|app\\.d)\\.ts$' },
			{ path: '^src/lib/server/' },
			'Only routes and the server itself reach the database.',
		),
		forbid(
			'nothing-imports-routes',
			{ pathNot: '^src/routes/' },
			{ path: '^src/routes/' },
			'Routes are glue.',
		),
		forbid(
			'server-imports',
			{ path: '^src/lib/server/', pathNot: notTest },
			{ path: '^src/(lib/(?!reading/|server/|wire/)|routes/)' },
			'The server builds on core, reading, and what travels between it and pages.',
		),
	],
	options: {
		doNotFollow: { path: 'node_modules' },
		tsPreCompilationDeps: true,
		tsConfig: { fileName: 'tsconfig.json' },
		enhancedResolveOptions: { extensions: ['.ts', '.js', '.mjs', '.svelte', '.d.ts'] },
		moduleSystems: ['es6', 'cjs'],
	},
};
