import type { Candidate } from '$core/methods/registry';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { written } from '$core/questions/answer';
import { evaluate } from '$core/questions/evaluate';
import { propose } from '$core/questions/propose';
import { parseRequest } from '$core/questions/request';
import { Answering, toTransfer } from './answering';
import { Asking } from './asking';

const VALUES = Array.from({ length: 36 }, (_, t) =>
	t === 7 ? null : 400 + 3 * t + 60 * Math.sin(t / 2) + ((t * 7919) % 83),
);
const series = { values: VALUES, frequency: 'month' as const, start: '2022-01' };

/** Page and worker with what crosses between them copied as a worker's messages are. */
function across() {
	const worker = new Answering();
	const crossed: { series: boolean; candidates: number }[] = [];
	const page = new Asking(
		async (question, held) => {
			const asked = structuredClone({ question, held });
			const { changes, transfer } = toTransfer(worker.answer(asked.question, asked.held));
			const arrived = structuredClone(changes, { transfer });
			const changed = arrived.candidates.filter((candidate) => typeof candidate !== 'string');
			crossed.push({ series: held !== null, candidates: changed.length });
			return arrived;
		},
		async (question, held) => {
			const asked = structuredClone({ question, held });
			return structuredClone(await worker.propose(asked.question, asked.held));
		},
	);
	return { page, crossed };
}

const LINE_UP: Candidate[] = [
	{ id: 'n', method: 'naive' },
	{ id: 's', method: 'ses', constants: { alpha: 0.3 } },
	{ id: 'h', method: 'holt', optimise: { criterion: 'mse' } },
	{ id: 'w', method: 'holt-winters', season: 'additive', constants: { alpha: 0.3, beta: 0.1, gamma: 0.1 } },
	{ id: 'c', method: 'combination', of: ['s', 'h'], weights: 'equal' },
];

/** A line-up with another α, some of its candidates left out, and a first period that all are scored from. */
const asked = fc
	.record({
		alpha: fc.constantFrom(0.1, 0.3, 0.7),
		without: fc.subarray(['n', 'w', 'c']),
		scoreFrom: fc.constantFrom(null, 20),
		window: fc.constantFrom('common' as const, 'own' as const),
		gaps: fc.constantFrom('skip' as const, 'zero' as const),
	})
	.map(({ alpha, without, ...rest }) => ({
		candidates: LINE_UP.filter(({ id }) => !without.includes(id)).map((candidate) =>
			candidate.id === 's' ? { ...candidate, constants: { alpha } } : candidate,
		),
		...rest,
	}));

test('what is put together on the page is the whole answer, whatever was asked before', async () => {
	await fc.assert(
		fc.asyncProperty(fc.array(asked, { minLength: 1, maxLength: 6 }), async (questions) => {
			const { page } = across();
			for (const question of questions) {
				const request = parseRequest({ series, ...question });
				const { evaluation } = await page.ask({ ...request, series });
				expect(written(evaluation)).toEqual(evaluate({ series, ...question }));
			}
		}),
		{ numRuns: 25 },
	);
});

test('a turned dial sends one candidate and gets one back, and what is made from it; the others stay the same objects', async () => {
	const { page, crossed } = across();
	const turned = (alpha: number) => ({
		...parseRequest({ series, candidates: LINE_UP }),
		series,
		candidates: LINE_UP.map((candidate) =>
			candidate.id === 's' ? { ...candidate, constants: { alpha } } : candidate,
		),
	});
	const { evaluation: first } = await page.ask(turned(0.3));
	const { evaluation: second } = await page.ask(turned(0.31));
	expect(crossed).toEqual([
		{ series: true, candidates: 5 },
		{ series: false, candidates: 2 },
	]);
	const same = second.candidates.map((candidate, i) => candidate === first.candidates[i]);
	expect(same).toEqual([true, false, true, true, false]);
});

test('another series is sent, and nothing of the one before is taken for it', async () => {
	const { page, crossed } = across();
	const request = { ...parseRequest({ series, candidates: LINE_UP }), series };
	await page.ask(request);
	const other = { ...series, values: VALUES.map((value) => value && value + 1) };
	const { evaluation } = await page.ask({ ...request, series: other });
	expect(written(evaluation)).toEqual(evaluate({ series: other, candidates: LINE_UP }));
	expect(crossed.map(({ series: sent }) => sent)).toEqual([true, true]);
});

test('a question that is refused leaves the next one whole', async () => {
	const { page } = across();
	const request = { ...parseRequest({ series, candidates: LINE_UP }), series };
	const wrong = { ...request, candidates: [{ id: 's', method: 'ses', constants: { alpha: 7 } }] };
	await expect(page.ask(wrong as typeof request)).rejects.toThrow(/alpha lies between 0 and 1/);
	const { evaluation } = await page.ask(request);
	expect(written(evaluation)).toEqual(evaluate({ series, candidates: LINE_UP }));
});

test('a proposal and its line-up are asked of one series, sent once, and say what they say without each other', async () => {
	const { page, crossed } = across();
	const { gaps } = parseRequest({ series, candidates: LINE_UP });
	const proposal = await page.propose({ series, gaps, horizon: 6 });
	expect(proposal).toEqual(propose({ series, gaps, horizon: 6 }));
	const candidates = [proposal.candidate!, ...proposal.others];
	const { evaluation } = await page.ask({ ...parseRequest({ series, candidates, horizon: 6 }), series });
	expect(written(evaluation)).toEqual(evaluate({ series, candidates, horizon: 6 }));
	expect(crossed.map((each) => each.series)).toEqual([false]);
});
