import type { Candidate } from '../methods/registry';
import { describe, expect, test } from 'vitest';
import { seededNormal, seededUniform } from '../numbers/random';
import { evaluate } from '../questions/evaluate';
import { diagnose } from '../diagnosis/diagnosis';
import { prepareSeries } from '../series/series';
import { offersFor } from './offer';

const shape = [0.6, 0.8, 1.1, 1.3, 1.4, 1.2, 1.1, 1, 0.9, 0.9, 0.8, 0.9];
const normal = seededNormal(4);
const noise = (t: number) => ((t * 7919) % 17) - 8;
function offers(
	values: (number | null)[],
	lineUp: Candidate[] = [
		{ id: 'c0', method: 'drift' },
		{ id: 'c1', method: 'average' },
	],
) {
	const input = { values, frequency: 'month' as const, start: '2020-01' };
	const list = offersFor(
		prepareSeries(input, 'skip'),
		diagnose(values, { frequency: 'month', expected: 12, only: false }),
		lineUp,
	);
	return { input, of: (id: string) => list.find(({ method }) => method.id === id)!, list };
}

describe('what is offered for an item', () => {
	test('with a season that grows: said for what follows it, and against what does not', () => {
		const { of, input, list } = offers(
			Array.from({ length: 60 }, (_, t) => (200 + 12 * t) * shape[t % 12]! + noise(t)),
		);
		expect(list.map(({ method }) => method.id).slice(0, 3)).toEqual([
			'naive',
			'seasonal-naive',
			'seasonal-growth',
		]);
		expect(of('holt-winters').suits).toBe(true);
		expect(of('holt-winters').because).toMatch(
			/^the season of 12 explains 9\d %, its season grows with the level; demand climbs by 1[12]/,
		);
		expect(of('holt-winters').settings).toMatchObject({ season: 'multiplicative', trend: 'additive' });
		expect(of('holt')).toMatchObject({ suits: false, refusal: null });
		expect(of('holt').because).toMatch(/leaves out the season of 12/);
		expect(of('ses').because).toMatch(/lags behind the trend of/);
		// Each is offered with settings that a request takes.
		const candidates = list.map(({ settings }, i) => ({ ...settings, id: `c${i}` }));
		expect(evaluate({ series: input, candidates }).candidates.map(({ ok }) => ok)).not.toContain(false);
	});

	test('without trend or season, simple methods suit', () => {
		const { of } = offers(Array.from({ length: 60 }, () => 300 + 20 * normal()));
		expect(of('ses')).toMatchObject({ suits: true, because: 'neither trend nor season was found.' });
		expect(of('holt').suits).toBe(false);
		expect(of('holt-winters')).toMatchObject({ suits: false, settings: { season: 'additive' } });
	});

	test('of rare demand what forecasts its rate suits, and nothing else', () => {
		const uniform = seededUniform(3);
		const { of, list } = offers(Array.from({ length: 60 }, () => (uniform() < 0.2 ? 2 : 0)));
		const suits = list.flatMap(({ method, suits }) => (suits ? [method.id] : []));
		expect(suits).toEqual(['average', 'ses', 'croston']);
		expect(of('croston').because).toBe('demand came in 13 of 60 months, and this forecasts its rate.');
		expect(of('holt').because).toBe('demand came in only 13 of 60 months.');
	});

	test('what cannot run says why, and starts that cannot are passed over', () => {
		const short = offers([5, 7, 6, 8, 6, 9, 7, 9]);
		expect(short.of('holt-winters').refusal).toMatch(
			/needs 2 whole cycles \(24 periods\) to begin; this series has 8/,
		);
		expect(short.of('seasonal-naive').refusal).toMatch(/needs 13 periods/);
		expect(short.of('ses').refusal).toBeNull();
		expect(short.of('seasonal-index').refusal).toMatch(/index of Jan cannot be told: .* 8 periods/);
		expect(short.of('trend-seasonal').refusal).toMatch(/no scored figure there says what it is/);
		const late = offers([null, 7, 6, 8, 6, 9, 7, 9]);
		expect(late.of('ses').settings.start).toEqual({ rule: 'mean' });
		expect(late.of('holt').settings.start).toEqual({ rule: 'line' });
	});
});

test('a method that is added again comes with other constants, or says that it is there', () => {
	const values = Array.from({ length: 48 }, (_, t) => (200 + 2 * t) * shape[t % 12]! + noise(t));
	let lineUp: Candidate[] = [];
	const texts = new Set<string>();
	for (let round = 0; round < 4; round++) {
		for (const { settings, there, refusal } of offers(values, lineUp).list) {
			if (refusal !== null) continue;
			if (there !== null) {
				expect(lineUp.find(({ id }) => id === there)!.method).toBe(settings.method);
				continue;
			}
			const text = JSON.stringify(settings);
			expect(texts.has(text), text).toBe(false);
			texts.add(text);
			lineUp = [...lineUp, { ...settings, id: `c${lineUp.length}` } as Candidate];
		}
	}
	const count = (method: string) => lineUp.filter((candidate) => candidate.method === method).length;
	expect(count('naive')).toBe(1);
	expect(count('ses')).toBe(4);
	expect(count('moving-average')).toBe(4);
	// As a server gives it back, its keys in another order, it is known again.
	const back = [{ constants: { alpha: 0.2 }, method: 'ses', id: 'x' }] as Candidate[];
	expect(offers(values, back).of('ses').settings).toMatchObject({ optimise: {} });
});
