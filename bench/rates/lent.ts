/**
 * A season that a family lends: made-up families of ten, nine of which know 60 months and one only a few. Mean error over the year
 * that came after, in shares of the item's level: of methods by themselves, and of proposals with and without the group.
 * npm run bench -- lent [families]
 */
import type { Settings } from '../../src/core/methods/registry';
import { seededNormal, seededUniform } from '../../src/core/numbers/random';
import { evaluate } from '../../src/core/questions/evaluate';
import { propose } from '../../src/core/questions/propose';
import type { SeriesInput } from '../../src/core/series/series';

const [count = 40] = process.argv.slice(3).map(Number);
const HORIZON = 12;
const LENDERS = 9;
const KNOWN = 60;
/** How far seasons swing, how far an item's lies from its family's (1: it has nothing to do with it), and how much is noise. */
const SWINGS = [0.5, 0.2];
const APART = [0.05, 0.3, 1];
const NOISE = [0.15, 0.35];
const HISTORIES = [5, 7, 14, 20, 30, 48];

const index = { rule: 'ratio-to-moving-average' } as const;
const ses = { method: 'ses', optimise: {} } as const;
const by = (lent?: 'group' | 'both', inner: Settings = ses): Settings =>
	({
		method: 'deseasonalised',
		season: 'multiplicative',
		index: { ...index, ...(lent && { lent }) },
		inner,
	}) as Settings;
const METHODS: Readonly<Record<string, Settings>> = {
	'flat, average': { method: 'average' },
	'flat, smoothed': ses,
	'own indices': by(),
	'the group’s, on an average': by('group', { method: 'average' }),
	'the group’s': by('group'),
	both: by('both'),
	'last year’s month': { method: 'seasonal-naive' },
};

/** An item of a family: demand about a level that wanders a little, by a season. */
function demand(season: readonly number[], periods: number, noise: number, seed: number): number[] {
	const normal = seededNormal(seed);
	let level = 100 * Math.exp(0.8 * normal());
	return Array.from({ length: periods }, (_, t) => {
		level *= Math.exp(0.02 * normal());
		return Math.max(0, level * season[t % 12]! * (1 + noise * normal()));
	});
}

const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);
const toTwelve = (list: readonly number[]) => list.map((each) => (12 * each) / sum(list));

function familyOf(swing: number, apart: number, noise: number, known: number, seed: number) {
	const uniform = seededUniform(seed);
	const seasonAbout = (centre: readonly number[] | null) =>
		toTwelve(
			Array.from({ length: 12 }, (_, j) => {
				const own = 1 + swing * (2 * uniform() - 1);
				return centre ? Math.max(0.05, centre[j]! * (1 - apart) + own * apart) : own;
			}),
		);
	const family = seasonAbout(null);
	const others = Array.from({ length: LENDERS }, (_, i) =>
		demand(seasonAbout(family), KNOWN, noise, 100 * seed + i + 1),
	);
	const whole = demand(seasonAbout(family), KNOWN + HORIZON, noise, 100 * seed + 99);
	const start = `${2020 + Math.floor((KNOWN - known) / 12)}-${String(((KNOWN - known) % 12) + 1).padStart(2, '0')}`;
	const series: SeriesInput = { values: whole.slice(KNOWN - known, KNOWN), frequency: 'month', start };
	const group = {
		name: 'family',
		values: Array.from({ length: KNOWN }, (_, t) => sum(others.map((each) => each[t]!))),
		start: '2020-01',
	};
	return { series, group, came: whole.slice(KNOWN), level: sum(series.values as number[]) / known };
}

interface Tally {
	off: number;
	of: number;
}
const missed = (ahead: readonly { mean: number | null }[], came: readonly number[]) =>
	ahead.some(({ mean }) => mean === null)
		? null
		: sum(ahead.map(({ mean }, h) => Math.abs(came[h]! - mean!))) / came.length;

for (const known of HISTORIES)
	for (const apart of APART) {
		const tallies = new Map<string, Tally>();
		const add = (key: string, off: number | null) => {
			const tally = tallies.get(key) ?? { off: 0, of: 0 };
			if (off !== null) {
				tally.off += off;
				tally.of++;
			}
			tallies.set(key, tally);
		};
		let worse = 0;
		for (const swing of SWINGS)
			for (const noise of NOISE)
				for (let seed = 1; seed <= count; seed++) {
					const { series, group, came, level } = familyOf(swing, apart, noise, known, 7919 * seed + known);
					const lent = { ...series, group };
					for (const [name, settings] of Object.entries(METHODS)) {
						const [own] = evaluate({
							series: lent,
							candidates: [{ ...settings, id: 'a' }],
							horizon: HORIZON,
							detail: 'summary',
						} as never).candidates;
						const error = own?.ok ? missed(own.ahead, came) : null;
						add(name, error && error / level);
					}
					const [before, after] = [series, lent].map(
						(each) => missed(propose({ series: each, horizon: HORIZON } as never).ahead, came)! / level,
					);
					add('proposal without the group', before!);
					add('proposal', after!);
					if (after! > before! * 1.05) worse++;
				}
		const all = count * SWINGS.length * NOISE.length;
		const mean = (name: string) => {
			const { off, of } = tallies.get(name)!;
			return of < all ? '–' : (off / of).toFixed(3);
		};
		console.log(
			`lent: ${known} months, seasons ${apart === 1 ? 'unlike the family’s' : `apart by ${100 * apart} %`}: ${[...tallies.keys()].map((name) => `${name} ${mean(name)}`).join('; ')}; the proposal further off by more than 5 % with the group in ${((100 * worse) / all).toFixed(0)} %`,
		);
	}
