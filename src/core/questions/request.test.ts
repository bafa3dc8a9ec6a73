import { expect, test } from 'vitest';
import { evaluate } from './evaluate';
import { RequestError, type RequestIssue } from './request';

const series = { values: [3, 5, 4, 6], frequency: 'step' };
const ses = { id: 'a', method: 'ses' };

function issuesOf(request: unknown): readonly RequestIssue[] {
	try {
		evaluate(request);
	} catch (error) {
		if (error instanceof RequestError) return error.issues;
		throw error;
	}
	return [];
}

test.each<[string, unknown, string, RegExp]>([
	['no object', null, '', /./],
	['unknown key', { series, candidates: [], horizn: 3 }, 'horizn', /not a key/],
	[
		'unknown key of a candidate',
		{ series, candidates: [{ ...ses, span: 3 }] },
		'candidates.0.span',
		/not a key/,
	],
	[
		'unknown method',
		{ series, candidates: [{ id: 'a', method: 'magic' }] },
		'candidates.0.method',
		/no method magic/,
	],
	[
		'constant above 1',
		{ series, candidates: [{ ...ses, constants: { alpha: 1.2 } }] },
		'candidates.0.constants.alpha',
		/between 0 and 1/,
	],
	[
		'foreign constant',
		{ series, candidates: [{ ...ses, constants: { gamma: 0.2 } }] },
		'candidates.0.constants.gamma',
		/not a key/,
	],
	[
		'span 0',
		{ series, candidates: [{ id: 'a', method: 'moving-average', span: 0 }] },
		'candidates.0.span',
		/at least 1/,
	],
	['no span', { series, candidates: [{ id: 'a', method: 'moving-average' }] }, 'candidates.0.span', /./],
	[
		'weights all 0',
		{ series, candidates: [{ id: 'a', method: 'weighted-moving-average', weights: [0, 0] }] },
		'candidates.0.weights',
		/cannot all be 0/,
	],
	[
		'given start without level',
		{ series, candidates: [{ ...ses, start: { rule: 'given' } }] },
		'candidates.0.start.level',
		/needs its level/,
	],
	[
		'start of another method',
		{ series, candidates: [{ ...ses, start: { rule: 'first-cycle' } }] },
		'candidates.0.start.rule',
		/ses starts by first/,
	],
	[
		'bounds upside down',
		{ series, candidates: [{ ...ses, optimise: { bounds: { alpha: [0.6, 0.2] } } }] },
		'candidates.0.optimise.bounds.alpha',
		/lower first/,
	],
	[
		'criterion',
		{ series, candidates: [{ ...ses, optimise: { criterion: 'r2' } }] },
		'candidates.0.optimise.criterion',
		/mse, mad/,
	],
	['same id twice', { series, candidates: [ses, ses] }, 'candidates', /id of its own/],
	[
		'infinite value',
		{ series: { ...series, values: [1, Infinity] }, candidates: [] },
		'series.values.1',
		/finite/,
	],
	[
		'text as value',
		{ series: { ...series, values: ['1'] }, candidates: [] },
		'series.values.0',
		/finite number/,
	],
	['no values', { series: { ...series, values: [] }, candidates: [] }, 'series.values', /at least one/],
	[
		'frequency',
		{ series: { ...series, frequency: 'fortnight' }, candidates: [] },
		'series.frequency',
		/hour, day/,
	],
	[
		'months without a start',
		{ series: { ...series, frequency: 'month' }, candidates: [] },
		'series.start',
		/2022-01/,
	],
	[
		'start of another frequency',
		{ series: { ...series, frequency: 'month', start: '2022-Q1' }, candidates: [] },
		'series.start',
		/is not a month/,
	],
	[
		'season length 0',
		{ series: { ...series, seasonLength: 0 }, candidates: [] },
		'series.seasonLength',
		/at least 1/,
	],
	[
		'excluded beyond the end',
		{ series: { ...series, excluded: [9] }, candidates: [] },
		'series.excluded',
		/between 1 and 4/,
	],
	['all held back', { series, candidates: [], holdout: 4 }, 'holdout', /holdout is shorter than the series/],
	['level 1', { series, candidates: [], levels: [1] }, 'levels.0', /below 1/],
	['tracking', { series, candidates: [], tracking: { kind: 'rolling' } }, 'tracking.periods', /./],
])('refuses %s with its path', (_name, request, path, message) => {
	const issues = issuesOf(request);
	const issue = issues.find((entry) => entry.path === path);
	expect(issue, JSON.stringify(issues)).toBeDefined();
	expect(issue!.message).toMatch(message);
});

test('everything wrong is listed at once', () => {
	const paths = issuesOf({ series: { values: [NaN], frequency: 'x' }, candidates: [], detail: 'some' }).map(
		(issue) => issue.path,
	);
	expect(paths).toEqual(expect.arrayContaining(['series.values.0', 'series.frequency', 'detail']));
});
