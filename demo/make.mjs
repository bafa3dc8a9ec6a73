// Makes the demo data: what a wholesale depot for bicycle parts, Kestrel Bay Cycle Supply, might have sold.
// Everything is invented; the same seed makes the same files. Run: node demo/make.mjs
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';

const HOME = new URL('./series/', import.meta.url);

/** @param {number} seed uniform numbers in [0, 1) */
function uniform(seed) {
	let state = seed >>> 0;
	return () => {
		state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
		return state / 4_294_967_296;
	};
}

/** @param {number} seed roughly normal numbers: the sum of twelve uniform ones */
function normal(seed) {
	const draw = uniform(seed);
	for (let i = 0; i < 20; i++) draw();
	return () => Array.from({ length: 12 }, draw).reduce((sum, value) => sum + value, -6);
}

const SPRING = [0.55, 0.62, 0.95, 1.3, 1.45, 1.4, 1.28, 1.12, 0.98, 0.86, 0.76, 0.73];
const AUTUMN = [1.12, 0.84, 0.66, 0.52, 0.46, 0.45, 0.52, 0.74, 1.3, 1.82, 1.96, 1.61];
const WINTER = [1.5, 0.7, 0.2, 0.04, 0, 0, 0, 0.1, 0.9, 3.1, 3.5, 1.96];
const DAYS = [1.28, 1.12, 1.02, 1.0, 1.1, 0.92, 0.56];
const HOURS = [
	0, 0, 0, 0, 0, 0, 0.1, 0.5, 1.4, 2.3, 2.6, 2.4, 1.5, 1.9, 2.4, 2.5, 2.2, 1.7, 1.2, 0.8, 0.4, 0.1, 0, 0,
];

const pad = (/** @type {number} */ value) => String(value).padStart(2, '0');

/** Spells the period `t` steps after a start. @type {Record<string, (start: number[], t: number) => string>} */
const SPELL = {
	year: ([year = 0], t) => String(year + t),
	quarter: ([year = 0, quarter = 1], t) => {
		const count = year * 4 + quarter - 1 + t;
		return `${Math.floor(count / 4)}-Q${(count % 4) + 1}`;
	},
	month: ([year = 0, month = 1], t) => {
		const count = year * 12 + month - 1 + t;
		return `${Math.floor(count / 12)}-${pad((count % 12) + 1)}`;
	},
	// Weeks begin on a Monday that is given as a date, and are written as that date.
	week: (start, t) => date(start, 7 * t),
	day: (start, t) => date(start, t),
	weekday: (start, t) => date(start, Math.floor(t / 5) * 7 + (t % 5)),
	hour: (start, t) => `${date(start, Math.floor(t / 24))}T${pad(t % 24)}`,
};

/** @param {number[]} start @param {number} days */
function date([year = 0, month = 1, day = 1], days) {
	return new Date(Date.UTC(year, month - 1, day + days)).toISOString().slice(0, 10);
}

/**
 * @typedef {{ code: string, name: string, unit?: string, frequency?: string, start?: number[], n?: number, level: number,
 *   trend?: number, season?: number[], additive?: boolean, noise?: number, wander?: number, at?: Record<number, number | null>,
 *   step?: [number, number], chance?: number, decimals?: number, damped?: number }} Make
 * level: demand a period at the start; trend: change a period; season: factors by calendar position; noise and
 * wander: shares of the level; step: [t, factor]; at: figures put in by hand, null for a gap; chance: that anything is sold
 */

/** @type {Make[]} */
const ITEMS = [
	{ code: '10-101', name: 'Inner tube 28 × 40', level: 2380, noise: 0.06 },
	{ code: '10-118', name: 'Inner tube 26 × 48', level: 1240, trend: -13, noise: 0.06 },
	{ code: '10-240', name: 'Touring tyre 28 × 40', level: 520, trend: 4.5, season: SPRING, noise: 0.06 },
	{ code: '10-255', name: 'Winter tyre, studded', level: 160, season: WINTER, noise: 0.14 },
	{
		code: '20-020',
		name: 'Brake pads, rim',
		unit: 'pairs',
		level: 860,
		season: SPRING,
		additive: true,
		trend: -3,
		noise: 0.05,
	},
	{ code: '20-034', name: 'Brake pads, disc', unit: 'pairs', level: 240, trend: 9.4, noise: 0.08 },
	{ code: '20-090', name: 'Brake cable, stainless', level: 1510, noise: 0.09, wander: 0.03 },
	{ code: '30-112', name: 'Chain, 8-speed', level: 690, trend: -6.5, noise: 0.07, n: 48 },
	{ code: '30-115', name: 'Chain, 11-speed', level: 210, trend: 16, damped: 0.95, noise: 0.08, n: 48 },
	{ code: '30-128', name: 'Chain, 12-speed', level: 64, trend: 5, noise: 0.12, n: 10, start: [2026, 1] },
	{ code: '30-310', name: 'Cassette 11–32', level: 142, noise: 0.1, at: { 31: 655 } },
	{ code: '30-402', name: 'Chain guard, steel', level: 410, step: [38, 0.55], noise: 0.06 },
	{ code: '40-007', name: 'Hub dynamo', level: 96, trend: 0.7, season: AUTUMN, noise: 0.08 },
	{ code: '40-051', name: 'Headlight, dynamo', level: 310, season: AUTUMN, noise: 0.06 },
	{
		code: '40-060',
		name: 'Rear light, battery',
		level: 540,
		trend: 3.4,
		season: AUTUMN,
		additive: true,
		noise: 0.05,
	},
	{ code: '50-210', name: 'City saddle, gel', level: 275, noise: 0.08, wander: 0.02, at: { 22: null } },
	{ code: '50-233', name: 'Sport saddle', level: 118, step: [41, 1.65], noise: 0.08 },
	{ code: '60-014', name: 'Flat pedal', unit: 'pairs', level: 388, noise: 0.05, wander: 0.06 },
	{
		code: '70-201',
		name: 'Mudguard set 28',
		unit: 'sets',
		level: 230,
		season: AUTUMN,
		trend: 1.2,
		noise: 0.09,
	},
	{
		code: '70-214',
		name: 'Rear rack, alloy',
		level: 330,
		trend: 3.1,
		season: SPRING,
		noise: 0.07,
		at: { 40: null },
	},
	{ code: '70-230', name: 'Kickstand, 40 mm plate', level: 455, noise: 0.07, wander: 0.04 },
	{ code: '80-005', name: 'Child seat, rear', level: 22, season: SPRING, noise: 0.25, chance: 0.82, n: 48 },
	{ code: '80-016', name: 'Trailer hitch', level: 6, noise: 0.5, chance: 0.45, n: 48 },
	{
		code: '90-001',
		name: 'Chain oil 100 ml',
		unit: 'bottles',
		frequency: 'week',
		start: [2024, 5, 6],
		n: 128,
		level: 184,
		noise: 0.1,
		wander: 0.03,
	},
	{
		code: '90-004',
		name: 'Puncture repair kit',
		unit: 'kits',
		frequency: 'week',
		start: [2024, 11, 4],
		n: 102,
		level: 420,
		trend: 0.8,
		noise: 0.08,
		at: { 33: null, 34: null, 71: null },
	},
	{
		code: '95-100',
		name: 'Parcels packed',
		unit: 'parcels',
		frequency: 'day',
		start: [2026, 5, 4],
		n: 181,
		level: 640,
		season: DAYS,
		noise: 0.05,
	},
	{
		code: '95-120',
		name: 'Counter sales',
		unit: 'orders',
		frequency: 'weekday',
		start: [2026, 6, 1],
		n: 110,
		level: 88,
		noise: 0.11,
		wander: 0.02,
	},
	{
		code: '95-140',
		name: 'Orders taken by the hour',
		unit: 'orders',
		frequency: 'hour',
		start: [2026, 10, 19],
		n: 288,
		level: 14,
		season: HOURS,
		noise: 0.14,
	},
	{
		code: '99-010',
		name: 'Workshop hours',
		unit: 'hours',
		frequency: 'quarter',
		start: [2019, 1],
		n: 31,
		level: 1320,
		trend: 11,
		season: [0.82, 1.24, 1.1, 0.84],
		noise: 0.03,
		decimals: 1,
	},
	{
		code: '99-020',
		name: 'Bicycles assembled',
		unit: 'bicycles',
		frequency: 'year',
		start: [2004],
		n: 22,
		level: 3150,
		trend: 164,
		noise: 0.05,
	},
	{
		code: '99-030',
		name: 'Revenue, all branches',
		unit: '€',
		level: 4_650_000,
		trend: 21_000,
		season: SPRING,
		noise: 0.04,
		decimals: 2,
	},
	{
		code: '99-040',
		name: 'Parcels sent back, share of all',
		unit: 'share',
		level: 0.0034,
		noise: 0.12,
		wander: 0.03,
		decimals: 6,
	},
	{ code: '30-505', name: 'Derailleur hanger, type C', level: 1.1, noise: 0.9, chance: 0.75 },
	{ code: '40-090', name: 'Brake light, cable pull', level: 52, noise: 0.1, n: 3, start: [2026, 8] },
	{ code: '99-050', name: 'Bins rented at the quay', unit: 'bins', level: 24 },
	{
		code: '95-160',
		name: 'Calls at the workshop counter',
		unit: 'calls',
		frequency: 'day',
		start: [2018, 8, 15],
		n: 3000,
		level: 128,
		trend: 0.012,
		season: [1.06, 1.28, 1.12, 1.02, 1.0, 0.96, 0.56],
		noise: 0.08,
		wander: 0.004,
	},
];

/** @param {Make} item @param {number} seed */
function make(item, seed) {
	const { frequency = 'month', n = 60, level, trend = 0, season, noise = 0, wander = 0, decimals = 0 } = item;
	// Months run up to October 2026 unless an item says otherwise.
	const lastMonth = 2026 * 12 + 9;
	const start = item.start ?? [Math.floor((lastMonth - n + 1) / 12), ((lastMonth - n + 1) % 12) + 1];
	const draw = normal(seed);
	const chance = uniform(seed + 5000);
	const offset = frequency === 'month' || frequency === 'quarter' ? (start[1] ?? 1) - 1 : 0;
	let drift = 0;
	let slope = trend;
	let climbed = 0;
	const lines = ['period,demand'];
	for (let t = 0; t < n; t++) {
		drift += wander * level * draw();
		const stepped = item.step && t >= item.step[0] ? item.step[1] : 1;
		const base = (level + climbed + drift) * stepped;
		climbed += slope;
		slope *= item.damped ?? 1;
		const factor = season ? (season[(offset + t) % season.length] ?? 1) : 1;
		const seasonal = item.additive ? base + level * 0.6 * (factor - 1) : base * factor;
		const sold = item.chance === undefined || chance() < item.chance ? 1 : 0;
		const demand = Math.max(
			0,
			sold * (seasonal + noise * (item.additive ? level : Math.max(seasonal, 0)) * draw()),
		);
		const given = item.at && t in item.at ? item.at[t] : demand;
		const written = given === null || given === undefined ? '' : given.toFixed(decimals);
		lines.push(`${SPELL[frequency]?.(start, t)},${written}`);
	}
	return `${lines.join('\n')}\n`;
}

mkdirSync(HOME, { recursive: true });
for (const file of readdirSync(HOME)) rmSync(new URL(file, HOME));
/** What items are grouped by: the family by the beginning of their code; goods lie in a bay. @type {Record<string, string>} */
const FAMILIES = {
	10: 'Tyres and tubes',
	20: 'Brakes',
	30: 'Drivetrain',
	40: 'Lights',
	50: 'Saddles',
	60: 'Pedals',
	70: 'Frame parts',
	80: 'Carriers',
	90: 'Care and repair',
	95: 'Counter',
	99: 'Depot',
};
const BAYS = ['Quay', 'Yard', 'Loft'];
const index = ['code,name,unit,frequency,Family,Bay'];
ITEMS.forEach((item, i) => {
	writeFileSync(new URL(`${item.code}.csv`, HOME), make(item, 7001 + 31 * i));
	const family = FAMILIES[item.code.slice(0, 2)] ?? '';
	const bay = item.code < '95' ? BAYS[i % BAYS.length] : '';
	index.push(
		[item.code, `"${item.name}"`, item.unit ?? 'pieces', item.frequency ?? 'month', family, bay].join(','),
	);
});
writeFileSync(new URL('../items.csv', HOME), `${index.join('\n')}\n`);
console.log(`${ITEMS.length} items written`);
