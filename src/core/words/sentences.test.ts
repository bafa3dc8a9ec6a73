import { expect, test } from 'vitest';
import { SWEEP_KIND_IDS, sweepKind } from '../../lib/wire/sweep-kinds';
import { pairedLead, shareLead } from '../accuracy/paired';
import type { Note } from '../contract/note';
import { diagnose } from '../diagnosis/diagnosis';
import type { Reason } from '../grading/reasons';
import { seededNormal } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import { propose } from '../questions/propose';
import { parsePeriod } from '../series/period';
import { stockRates, togetherWords } from './ahead';
import { alarmChance, alarmWords } from './alarm';
import { leadNote, naiveNote } from './comparison';
import { diagnosisWords } from './diagnosis';
import { lineUpWords } from './line-up';
import { paperSentences } from './paper';
import { naiveNote as naiveProposed, untriedNote } from './proposal';
import {
	keptWarning,
	newestWords,
	PROPOSE_AGAIN,
	reasonChance,
	reasonShort,
	reasonWords,
	scoreWords,
} from './status';
import { steadinessWords } from './steadiness';
import { besideWords, closerSentence, CYCLE_WARNING, sumSentences } from './sum';
import {
	CLEARLY,
	gainSentences,
	RARE_MEASURES,
	sharedSentence,
	stockSentences,
	sweptSentence,
} from './sweep';
import { TERMS } from './terms';
import { trialWords } from './trial';

/**
 * What the screens say, each once, for a person to read in one go: `docs/sentences.md`. After a change of wording
 * `npm run docs` writes it again.
 */

const SCALE = { power: 0, decimals: 1 };
const at = (period: string) => parsePeriod('month', period);
const LINES: string[] = [];
const heading = (text: string) => LINES.push('', `## ${text}`, '');
const say = (what: string, ...texts: (string | null)[]) => {
	for (const text of texts) if (text) LINES.push(`- *${what}* ${text}`);
};
const sayNotes = (notes: readonly Note[], told: Set<string>) => {
	for (const { code, text } of notes) {
		if (told.has(code)) continue;
		told.add(code);
		say(code, text);
	}
};

const REASONS: Reason[] = [
	{ code: 'no-forecast', stake: 1 },
	{ code: 'ran-out', stake: 1, until: at('2026-10'), left: 0, needed: 1 },
	{ code: 'not-in', stake: 1, last: at('2025-12'), newest: at('2026-10'), have: 27, items: 28 },
	{ code: 'outside', stake: 1, period: at('2026-10'), actual: 475, by: 19.3, level: 0.95, chance: 0.05 },
	{
		code: 'drifts',
		stake: 1,
		side: 'below',
		since: at('2025-06'),
		from: at('2025-01'),
		off: -33.5,
		periods: 380,
	},
	{ code: 'worse-than-naive', stake: 1, grades: 25, by: 86 },
	{ code: 'ranges-off', stake: 1, level: 0.8, inside: 7, of: 12, chance: 0.004 },
];

/** Series that call for many of the remarks, and what is tried on them. */
function remarkable(): { values: (number | null)[]; candidates: object[]; more?: object }[] {
	const draw = seededNormal(4);
	const months = (of: (t: number) => number | null, count = 60) =>
		Array.from({ length: count }, (_, t) => of(t));
	const season = (t: number) => 1 + 0.4 * Math.sin((t * Math.PI) / 6);
	const ses = { id: 'a', method: 'ses', optimise: {} };
	return [
		{ values: months((t) => 100 + 3 * t + 4 * draw()), candidates: [ses, { id: 'b', method: 'average' }] },
		{
			values: months((t) => Math.round((100 + 2 * t) * season(t) + 3 * draw())),
			candidates: [
				{ id: 'a', method: 'holt-winters', season: 'additive', optimise: {} },
				{ id: 'b', method: 'naive' },
				{ id: 'c', method: 'average' },
				{
					id: 'd',
					method: 'deseasonalised',
					season: 'multiplicative',
					index: { rule: 'ratio-to-moving-average' },
					inner: { method: 'ses', constants: { alpha: 0.2 } },
				},
			],
			more: { holdout: 12 },
		},
		{
			values: months((t) => (t % 4 === 0 ? Math.round(3 + Math.abs(draw())) : 0)),
			candidates: [{ id: 'a', method: 'average' }],
		},
		{ values: months((t) => (t % 7 === 3 ? null : 20 + draw()), 30), candidates: [ses] },
		{
			values: months((t) => (t < 20 ? 50 : 300) + draw(), 24),
			candidates: [
				{ id: 'a', method: 'moving-average', span: 3 },
				{ id: 'b', method: 'linear-trend' },
			],
		},
		{
			values: months((t) => 10 + t, 12),
			candidates: [{ id: 'a', method: 'holt', constants: { alpha: 1, beta: 1 } }],
		},
		{ values: [5, 6, 7], candidates: [{ id: 'a', method: 'average' }] },
		{
			values: months((t) => (t === 59 ? 900 : 100 + 5 * draw())),
			candidates: [{ id: 'a', method: 'average' }],
		},
	];
}

test('every sentence stands in the page as it is said', async () => {
	LINES.length = 0;
	LINES.push(
		'# Sentences',
		'',
		'What the screens say, each with a made-up case; made by `npm run docs`, held by a test.',
	);

	heading('Reasons to check an item: short, with what helps, and in the hover');
	for (const reason of REASONS)
		say(
			reason.code,
			reasonShort(reason, 'month', SCALE, 'pieces'),
			reasonWords(reason, 'month', SCALE, 'pieces'),
			reasonChance(reason, 'month'),
		);
	say('propose again', PROPOSE_AGAIN);
	say(
		'kept constants',
		keptWarning({ id: 'a', method: 'holt-winters', season: 'additive', trend: 'additive' }),
	);
	const newest = newestWords({
		frequency: 'month',
		period: at('2026-10'),
		items: 28,
		have: 27,
		graded: 24,
		inside: 23,
		reasons: { drifts: 2, 'ran-out': 1, 'worse-than-naive': 1, 'ranges-off': 1, 'no-forecast': 3 },
	});
	say('newest period', `${newest.head}: ${newest.parts.map(({ text }) => text).join(', ')}`);

	heading('Remarks on candidates');
	const told = new Set<string>();
	for (const { values, candidates, more } of remarkable()) {
		const answer = evaluate({
			series: { values, frequency: 'month', start: '2022-01' },
			candidates,
			horizon: 12,
			trial: {},
			...more,
		} as never);
		sayNotes(answer.notes, told);
		for (const each of answer.candidates) sayNotes(each.notes, told);
	}

	heading('Who leads');
	const list = (of: (i: number) => number) => Array.from({ length: 24 }, (_, i) => of(i));
	const lead = shareLead(
		list((i) => 8 + (i % 3)),
		list((i) => 11 + (i % 5)),
	)!;
	const second = { id: 'b', name: 'Moving average of 3' };
	say('in a trial', leadNote(lead, second, 'these origins').text);
	const actual = Float64Array.from(list((i) => 100 + (i % 5)));
	const off = (by: (i: number) => number) => actual.map((value, i) => value + by(i));
	const all = Int32Array.from(actual.keys());
	for (const [one, other, positions] of [
		[off(() => 1), off((i) => 3 + (i % 2)), all],
		[off((i) => (i % 2 ? 3 : 1)), off((i) => (i % 2 ? 1.1 : 3.1)), all],
		[off(() => 1), off(() => 3), all.subarray(0, 3)],
		[actual, actual, all],
	] as const)
		say(
			'by MAD',
			leadNote(pairedLead(actual, one, other, positions)!, second, 'the 24 months compared').text,
		);
	say('against naive', naiveNote(0.14, lead, '12 past months')?.text ?? null);
	for (const loss of ['size', 'square'] as const) {
		const words = lineUpWords(
			'common',
			'common',
			[{ id: 'a', name: 'Drift', size: 47.9, notes: [] }],
			SCALE,
			'pieces',
			'month',
			loss,
		)!;
		say('line-up', `${words.lead} ${words.rest}`);
	}

	heading('Proposals');
	const draw = seededNormal(9);
	const toldOfProposals = new Set<string>();
	for (const values of [
		list((t) => 100 + 10 * draw() + t),
		Array.from({ length: 60 }, (_, t) => (100 + t) * (1 + 0.4 * Math.sin((t * Math.PI) / 6)) + 3 * draw()),
		[4, 6, 5],
	]) {
		const proposal = propose({ series: { values, frequency: 'month', start: '2022-01' }, horizon: 12 });
		sayNotes(proposal.notes, toldOfProposals);
		for (const one of proposal.tried) sayNotes(one.notes, toldOfProposals);
	}
	say('naive', naiveProposed(36).text, naiveProposed(0).text, naiveProposed(0, true).text);
	say('untried', untriedNote('Moving average of 3').text);
	for (const relativeError of [0.7, 1, 1.3, null])
		say(
			'trial',
			trialWords(
				{
					name: 'Double smoothing (Holt)',
					origins: 36,
					steps: 12,
					relativeError,
					inside: [{ level: 0.8, inside: 300, of: 366 }],
				},
				'month',
			),
		);

	heading('Bias');
	const alarm = { ratio: 0.91, limit: 0.82, chance: 0.1, since: 40, size: 1 };
	say(
		'alarm',
		alarmWords(alarm, 'month', (t) => at('2022-01') + t - 1),
		alarmWords({ ...alarm, ratio: 0.3, since: null }, 'month', () => 0),
		alarmChance(alarm, 'month', 24),
	);

	heading('Ahead and stock');
	const together = togetherWords(
		{
			steps: 3,
			mean: 812,
			level: 0.8,
			range: [700, 930],
			neverBelow: true,
			service: 0.999,
			stock: 1004,
			ends: SCALE,
		},
		'month',
		SCALE,
		'pieces',
	);
	say('sum', together.sum, together.stock);
	say('hover', stockRates('trial'), stockRates('counts'));

	heading('Records');
	say(
		'score',
		scoreWords(
			{
				final: { count: 25, mad: 41, relativeMae: 0.88 },
				inside: [{ level: 0.8, inside: 20, of: 25 }],
			} as never,
			'month',
			SCALE,
		),
	);

	heading('Demand');
	for (const values of [
		Array.from({ length: 60 }, (_, t) => (100 + t) * (1 + 0.4 * Math.sin((t * Math.PI) / 6)) + 3 * draw()),
		Array.from({ length: 48 }, (_, t) => (t < 20 ? 100 : 200) + (t === 30 ? 400 : 0) + 10 * draw()),
		[3, 4, 5],
	])
		for (const { code, says, text } of diagnosisWords(
			diagnose(values, { frequency: 'month', expected: 12, only: false }),
			{
				frequency: 'month',
				first: at('2022-01'),
				level: 150,
				firstSeason: 1,
				seasonLength: 12,
			},
		))
			say(`${code}, ${says}`, text);
	const points = [0.2, 0.21, 0.2, 0.22, 0.2].map((alpha, i) => ({
		origin: 30 + i,
		constants: { alpha },
		value: 1,
		rival: null,
	}));
	const asked = { id: 'a', method: 'ses' } as const;
	say(
		'steady',
		steadinessWords(points, asked, (origin) => `month ${origin}`),
	);
	say(
		'not steady',
		steadinessWords(
			points.map((each, i) => ({
				...each,
				constants: { alpha: i / 5 },
				rival: { constants: { alpha: 0.1 }, value: 1.001 },
			})),
			asked,
			(origin) => `month ${origin}`,
		),
	);

	heading('Groups and sweeps');
	say(
		'total',
		besideWords(
			{
				items: 5,
				ended: { items: 0, codes: [], after: 12 },
				last: { items: 0, codes: [] },
				missing: { periods: 0, latest: null },
				ahead: [{ period: at('2026-11'), figure: 1410, items: 4 }],
			},
			'month',
			at('2026-11'),
			1285,
			SCALE,
		),
	);
	say(
		'total',
		...sumSentences(
			{
				items: 5,
				ended: { items: 1, codes: ['A-1'], after: 12 },
				last: { items: 2, codes: ['A-2', 'A-3'] },
				missing: { periods: 1, latest: at('2026-03') },
				ahead: [],
			},
			'month',
			at('2026-10'),
		),
	);
	for (const gain of [0.125, -0.25, 0])
		say('closer', closerSentence({ origins: 24, gain, clear: gain > 0 }, 'month'));
	say('closer', closerSentence({ origins: 3, gain: 0.1, clear: false }, 'month'), CYCLE_WARNING);
	const counts = {
		rows: 40,
		refused: 2,
		ready: 38,
		adopted: 0,
		beside: 40,
		clear: 12,
		closer: 21,
		rare: 3,
		wapeBefore: 18.2,
		wape: 17.1,
		wapeClear: 17.4,
	};
	for (const kind of SWEEP_KIND_IDS) {
		const { done, told } = sweepKind(kind);
		say(kind, sweptSentence(counts, done, told === 'of'));
	}
	say('stock', ...stockSentences(12, 9));
	say('gain', ...gainSentences(counts));
	say('hover', CLEARLY, RARE_MEASURES);
	for (const by of ['forecasts', 'cycle'] as const)
		say('shared', sharedSentence({ by, ahead: 3, periods: [{ figure: 1310 }, { figure: 1320 }] }, 1290));

	heading('On paper');
	const changed = ['2026-11', '2026-12', '2027-01'].map((period, i) => ({
		period: at(period),
		reason: i < 2 ? 'the spring fair' : 'a new customer',
	}));
	const paper = {
		name: 'Combination of 7',
		besideAdopted: false,
		unit: 'pieces',
		ahead: [at('2026-11'), at('2027-10')] as const,
		mad: 12.44,
		compared: 35,
		trial: naiveNote(0.86, lead, '24 past months')!.text,
		level: 0.8,
		changes: [],
		rounding: null,
	};
	say('paper', ...paperSentences(paper, 'month', SCALE));
	say(
		'paper',
		paperSentences(
			{ ...paper, changes: changed, rounding: { pack: 12, way: 'nearest', floor: null } },
			'month',
			SCALE,
		).at(-1)!,
	);

	heading('Terms');
	for (const { term, is } of TERMS) say(term, is);

	await expect(`${LINES.join('\n')}\n`).toMatchFileSnapshot('../../../docs/sentences.md');
});
