/**
 * How large anything may be that a request, a text or a file can make large. Every schema, every reader and every screen
 * takes its bound from here; `docs/http.md` lists them, and a test holds the list to this file.
 */
export const BOUNDS = {
	/** Figures. */
	figure: 1e15,
	growth: 100,

	/** Of one series and what is asked about it. */
	periods: 20_000,
	seasonLength: 2_000,
	candidates: 100,
	depth: 50,
	scenarios: 12,
	horizon: 1_000,
	levels: 10,
	answer: 2_000_000,
	work: 1_000_000_000,
	workAdopting: 10_000_000_000,

	/** Texts, in characters. */
	id: 40,
	period: 40,
	code: 80,
	name: 200,
	unit: 40,
	label: 60,
	labelValue: 120,
	event: 200,
	fileName: 300,
	reason: 2_000,

	/** Of a table that is read at once. */
	tableCharacters: 8_000_000,
	tableBytes: 16_000_000,
	tableUnpacked: 64_000_000,
	tableRows: 400_000,
	tableColumns: 16_384,
	tableCells: 2_000_000,
	cellCharacters: 32_767,
	tableItems: 50_000,
	sheets: 200,
	roles: 5_000,

	/** Of a file that is read as a stream. */
	sampleBytes: 262_144,
	streamBytes: 4_000_000_000,
	streamItems: 500_000,
	rowCharacters: 1_000_000,

	/** Of one call. */
	jsonBytes: 65_536,
	jsonLarge: 4_000_000,
	headBytes: 262_144,
	layerEntries: 20_000,
	codes: 5_000,
	window: 1_000,
	sweepCodes: 20_000,
	views: 200,
	forecasts: 200,

	/** Of an item. */
	labels: 20,

	/** Of access. */
	personName: 80,
	password: 128,
	happened: 100,
} as const;

/** What each bound is of, as the documentation says it. */
export const BOUNDS_SAID: Readonly<Record<keyof typeof BOUNDS, string>> = {
	figure: 'size of a figure, above or below 0',
	growth: 'growth a cycle, as a share',
	periods: 'periods of a series; spans, weights, starts, windows and first scored periods run no further',
	seasonLength: 'periods of a season',
	candidates: 'candidates compared at once, and members of a combination',
	depth: 'combinations made from combinations, one inside the other',
	scenarios: 'levels laid side by side, and levels of a blend',
	horizon: 'periods ahead',
	levels: 'levels of a range',
	answer: 'figures in one answer of evaluate over HTTP, as estimated before it is calculated',
	work: 'steps of arithmetic for one request over HTTP, as estimated before it is begun',
	workAdopting: 'the same for a forecast that is adopted or calculated again',
	id: 'characters of a candidate’s id',
	period: 'characters of a period',
	code: 'characters of an item’s code',
	name: 'characters of an item’s name',
	unit: 'characters of a unit',
	label: 'characters of what a label is of, such as “Family”',
	labelValue: 'characters of a label',
	event: 'characters of an event',
	fileName: 'characters of a file’s name',
	reason: 'characters of a reason',
	tableCharacters: 'characters of a table that is read at once',
	tableBytes: 'bytes of a file that is read at once',
	tableUnpacked: 'bytes that a workbook unpacks to',
	tableRows: 'rows of a table that is read at once',
	tableColumns: 'columns of a table',
	tableCells: 'rows times columns of a table that is read at once',
	cellCharacters: 'characters of a cell',
	tableItems: 'items that come in from one table',
	sheets: 'sheets of a workbook',
	roles: 'rows or columns whose role is chosen by hand',
	sampleBytes: 'bytes at the beginning of a streamed file that its layout is decided on',
	streamBytes: 'bytes of a file that is read as a stream, unless VENTREL_LARGEST_FILE says otherwise',
	streamItems: 'items of a file that is read as a stream',
	rowCharacters: 'characters of a row',
	jsonBytes: 'bytes of a call in JSON, where nothing else is said of it',
	jsonLarge:
		'bytes of a call in JSON that may name many items or periods: a line-up, layers, a forecast to adopt, codes, a request of evaluate',
	headBytes: 'bytes of the line of JSON before a file that is read as a stream',
	layerEntries: 'entries of layers in one call, and periods with an entry of one kind',
	codes: 'codes looked up in one call',
	window: 'rows of a window of the list',
	sweepCodes: 'codes that a sweep names',
	views: 'views of the list that are saved by name',
	forecasts: 'items whose forecasts are handed over in one answer',
	labels: 'labels of an item',
	personName: 'characters of the name of a person or a token',
	password: 'characters of a password',
	happened: 'rows of what happened in one answer',
};

/** Between thousands: never a mark that is a decimal one elsewhere. */
const THIN = '\u202f';

/** A bound as a reader writes it: 20 000, with a thin space; 10^15. */
export const written = (bound: number): string =>
	bound >= 1e10
		? `${bound / 10 ** Math.floor(Math.log10(bound)) === 1 ? '' : `${bound / 10 ** Math.floor(Math.log10(bound))}·`}10^${Math.floor(Math.log10(bound))}`
		: bound.toLocaleString('en').replaceAll(',', THIN);
