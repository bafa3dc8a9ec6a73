/** (e) How often a first look at a series is right, and how often it cries wolf, on series of known make. */
import { seededNormal, seededUniform } from '../../src/core/numbers/random';
import { diagnose, diagnoseSeason } from '../../src/core/diagnosis/diagnosis';
import { CALENDAR_SEASON_LENGTH, type Frequency } from '../../src/core/series/frequency';

interface Made {
	values: number[];
	frequency: Frequency;
	season: number;
	multiplied: boolean | null;
	trend: boolean;
	step: boolean;
	outlier: number | null;
	make: string;
}

const LENGTHS: [number, Frequency, number][] = [
	[36, 'month', 12],
	[60, 'month', 12],
	[120, 'month', 12],
	[16, 'quarter', 4],
	[32, 'quarter', 4],
	[104, 'week', 52],
	[70, 'day', 7],
	[52, 'step', 13],
	[60, 'step', 11],
];
const NOISE = [0.03, 0.08, 0.15];
const REPEATS = 10;

/** Every combination of length, noise and make, each made several times from a seed of its own. */

export function panel(): Made[] {
	const all: Made[] = [];
	let seed = 1;
	for (const [n, frequency, period] of LENGTHS) {
		for (const noise of NOISE) {
			for (const season of [0, period]) {
				for (const kind of ['level', 'trend', 'step', 'outlier', 'wandering'] as const) {
					for (let i = 0; i < REPEATS; i++)
						all.push(make(seed++, n, frequency, season, noise, kind, i % 2 === 1));
				}
			}
		}
	}
	return all;
}

function make(
	seed: number,
	n: number,
	frequency: Frequency,
	season: number,
	noise: number,
	kind: 'level' | 'trend' | 'step' | 'outlier' | 'wandering',
	multiplied: boolean,
): Made {
	const normal = seededNormal(seed);
	const uniform = seededUniform(seed * 7 + 1);
	const shape = Array.from({ length: season }, () => normal());
	const centre = shape.reduce((a, b) => a + b, 0) / Math.max(1, season);
	const spread = Math.sqrt(shape.reduce((a, b) => a + (b - centre) ** 2, 0) / Math.max(1, season)) || 1;
	// A season is at least half as large as the noise again; smaller ones nobody could see.
	const size = 100 * Math.max(0.12, 1.5 * noise);
	const effects = shape.map((value) => (size * (value - centre)) / spread);
	const slope = kind === 'trend' ? ((uniform() < 0.5 ? -0.4 : 0.9) * 100) / n : 0;
	const stepAt = kind === 'step' ? Math.round(n * (0.35 + 0.3 * uniform())) : n;
	const stepBy = 100 * (0.3 + 2.5 * noise);
	const outlier = kind === 'outlier' ? Math.round(2 + uniform() * (n - 5)) : null;
	let wander = 0;
	const values = Array.from({ length: n }, (_, t) => {
		if (kind === 'wandering') wander = 0.6 * wander + normal() * noise * 80;
		const level = 100 + slope * t + (t >= stepAt ? stepBy : 0);
		const seasonal =
			season > 0 ? (multiplied ? (level / 100) * effects[t % season]! : effects[t % season]!) : 0;
		const error = kind === 'wandering' ? wander : normal() * noise * 100;
		return level + seasonal + error + (t === outlier ? 100 * (0.6 + 8 * noise) : 0);
	});
	return {
		values,
		frequency,
		season,
		multiplied: season > 0 && kind === 'trend' ? multiplied : null,
		trend: kind === 'trend',
		step: kind === 'step',
		outlier,
		make: kind,
	};
}

/** As the screen asks where no length is set by hand. */
const asked = (frequency: Frequency) => ({
	frequency,
	expected: CALENDAR_SEASON_LENGTH[frequency],
	only: false,
});

/** Right and false alarms of each reading. */
export function measureLooking(): string[] {
	const all = panel();
	const rows = all.map((made) => ({ made, seen: diagnose(made.values, asked(made.frequency)) }));
	const share = (list: typeof rows, hit: (row: (typeof rows)[number]) => boolean) =>
		`${list.filter(hit).length} of ${list.length} (${list.length > 0 ? ((100 * list.filter(hit).length) / list.length).toFixed(1) : '–'} %)`;
	const seasonal = rows.filter(({ made }) => made.season > 0);
	const flat = rows.filter(({ made }) => made.season === 0);
	const compared = rows.filter(({ made, seen }) => made.multiplied !== null && seen.swings);
	return [
		`(e) a first look at ${all.length} series of known make`,
		`    season there, and found: ${share(seasonal, ({ seen }) => seen.season !== null)}; with its length: ${share(seasonal, ({ made, seen }) => seen.season?.length === made.season)}`,
		`    no season, and one cried: ${share(flat, ({ seen }) => seen.season !== null)}; of those that wander: ${share(
			flat.filter(({ made }) => made.make === 'wandering'),
			({ seen }) => seen.season !== null,
		)}`,
		`    swings grow, and said so: ${share(
			compared.filter(({ made }) => made.multiplied),
			({ seen }) => seen.swings!.grow,
		)}; steady, and growing cried: ${share(
			compared.filter(({ made }) => !made.multiplied),
			({ seen }) => seen.swings!.grow,
		)}`,
		`    trend there, and found: ${share(
			rows.filter(({ made }) => made.trend),
			({ seen }) => seen.trend?.found === true,
		)}; level or outlier, and one cried: ${share(
			rows.filter(({ made }) => made.make === 'level' || made.make === 'outlier'),
			({ seen }) => seen.trend?.found === true,
		)}; of those that wander: ${share(
			rows.filter(({ made }) => made.make === 'wandering'),
			({ seen }) => seen.trend?.found === true,
		)}`,
		`    step there, and found: ${share(
			rows.filter(({ made }) => made.step),
			({ seen }) => seen.step?.found === true,
		)}; none, and one cried: ${share(
			rows.filter(({ made }) => !made.step),
			({ seen }) => seen.step?.found === true,
		)}`,
		`    outlier period there, and found: ${share(
			rows.filter(({ made }) => made.outlier !== null),
			({ made, seen }) => seen.outliers.some(({ at }) => at === made.outlier),
		)}; none, and one cried: ${share(
			rows.filter(({ made }) => made.outlier === null),
			({ seen }) => seen.outliers.length > 0,
		)}`,
	];
}

/** Series without a season of every frequency, in lengths that are usual for it. */
const SEASONLESS: Record<Frequency, number[]> = {
	hour: [96, 168, 336],
	day: [60, 120, 365],
	weekday: [50, 130, 260],
	week: [104, 156],
	month: [36, 60, 120],
	quarter: [16, 24, 40],
	'half-year': [16, 24, 40],
	year: [12, 20, 40],
	step: [36, 60, 120],
};

/** What moves without repeating itself. */
const WANDERING: Record<string, (n: number, draw: () => number) => number[]> = {
	'white noise': (n, draw) => Array.from({ length: n }, () => 100 + 10 * draw()),
	'random walk': (n, draw) => running(n, (before) => before + 10 * draw()),
	'walk with drift': (n, draw) => running(n, (before) => before + 3 + 10 * draw()),
	'line with noise': (n, draw) => Array.from({ length: n }, (_, t) => 100 + t + 10 * draw()),
	'level that moves': (n, draw) => {
		let level = 200;
		return Array.from({ length: n }, () => {
			const error = 10 * draw();
			const value = level + error;
			level += 0.3 * error;
			return value;
		});
	},
	'errors alike (0.6)': (n, draw) => running(n, (before) => 200 + 0.6 * (before - 200) + 10 * draw()),
	'errors alike (0.9)': (n, draw) => running(n, (before) => 200 + 0.9 * (before - 200) + 10 * draw()),
};

function running(n: number, next: (before: number) => number): number[] {
	let value = 200;
	return Array.from({ length: n }, () => (value = next(value)));
}

/** How often something is claimed of series that wander, by make and frequency. */
export interface Claimed {
	make: string;
	frequency: Frequency;
	of: number;
	/** A season of the length in force: what notes and offers say. */
	own: number;
	/** A season of any length, a trend, a step: what Look says. */
	any: number;
	trend: number;
	step: number;
}

/** Claims about series without a season, with so many series of each make and length. */
export function claimsOfSeasonless(each: number): Claimed[] {
	const rows: Claimed[] = [];
	for (const [make, values] of Object.entries(WANDERING)) {
		for (const [name, lengths] of Object.entries(SEASONLESS)) {
			const frequency = name as Frequency;
			const row = { make, frequency, of: 0, own: 0, any: 0, trend: 0, step: 0 };
			for (const n of lengths) {
				for (let seed = 1; seed <= each; seed++) {
					const series = values(n, seededNormal(seed * 31 + n));
					const seen = diagnose(series, asked(frequency));
					const expected = CALENDAR_SEASON_LENGTH[frequency];
					row.of++;
					if (seen.season) row.any++;
					if (expected > 1 && diagnoseSeason(series, { frequency, expected, only: true }).season) row.own++;
					if (seen.trend?.found) row.trend++;
					if (seen.step?.found) row.step++;
				}
			}
			rows.push(row);
		}
	}
	return rows;
}

/** The same as lines to print. */
export function measureSeasonless(): string[] {
	const rows = claimsOfSeasonless(100);
	const percent = (count: number, of: number) => ((100 * count) / of).toFixed(1);
	const worst = (key: 'own' | 'any') =>
		rows.reduce((most, row) => (row[key] / row.of > most[key] / most.of ? row : most));
	return [
		`    claimed of series without a season, ${rows.reduce((sum, { of }) => sum + of, 0)} of every frequency (% of 100):`,
		...Object.keys(WANDERING).map((make) => {
			const own = rows.filter((row) => row.make === make);
			const sum = (key: 'of' | 'own' | 'any' | 'trend' | 'step') =>
				own.reduce((total, row) => total + row[key], 0);
			const share = (key: 'own' | 'any' | 'trend' | 'step') => percent(sum(key), sum('of'));
			return `      ${make}: a season in notes and offers ${share('own')}, of any length in Look ${share('any')}; a trend ${share('trend')}, a step ${share('step')}`;
		}),
		...(['own', 'any'] as const).map((key) => {
			const row = worst(key);
			return `      most often ${key === 'own' ? 'in notes and offers' : 'in Look'}: ${row.make} by the ${row.frequency}, ${percent(row[key], row.of)} (at most 5)`;
		}),
	];
}
