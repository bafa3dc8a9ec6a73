import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Candidate } from '$core/methods/registry';
import { evaluateChecked } from '$core/questions/evaluate';
import { propose, type ProposalRequest } from '$core/questions/propose';
import { parseRequest, type ValidRequest } from '$core/questions/request';
import { stubStorage } from '../../../../../tests/support/storage';
import { NO_LAYERS } from '$core/series/layers';
import type { Item } from '../../../wire/items';
import { CallError } from '../../base/call';
import { ItemState } from './item-state.svelte';

const VALUES = Array.from({ length: 36 }, (_, t) => 300 + 4 * t + 30 * ((t * 5) % 7));
const LINE_UP: Candidate[] = [
	{ id: 'a', method: 'naive' },
	{ id: 'b', method: 'ses', constants: { alpha: 0.3 } },
	{ id: 'c', method: 'combination', of: ['a', 'b'], weights: [1, 3] },
];
const itemWith = (more: Partial<Item> = {}): Item => ({
	code: '10-1',
	name: 'Inner tube',
	unit: 'pieces',
	series: { frequency: 'month', seasonLength: 12, first: 2023 * 12, values: VALUES },
	seen: 4,
	layers: { layers: NO_LAYERS, history: [], newest: 0 },
	group: null,
	lineUp: { version: 2, candidates: LINE_UP, hidden: [] },
	adopted: null,
	adoptedCount: 0,
	plan: { carry: 'search', leadTime: null, price: null },
	labels: [],
	sumOf: null,
	status: null,
	retiredAt: null,
	changes: [],
	...more,
});

type Sent = { key: string; body: unknown };
/** The arithmetic at once, and a server that writes down what it is sent. */
function opened(answer: (sent: Sent) => unknown = () => ({ version: 3 }), item = itemWith()) {
	const sent: Sent[] = [];
	const ask = async (request: ValidRequest) => ({
		evaluation: evaluateChecked(parseRequest(request)),
		took: 0,
	});
	const call = async (key: string, _: object, body?: unknown) => {
		sent.push({ key, body });
		return answer({ key, body });
	};
	const ends = { ask, call: call as never, propose: async (request: ProposalRequest) => propose(request) };
	return { state: new ItemState(item, null, ends), sent };
}
const figures = async (state: ItemState) => {
	state.answers.recompute();
	await vi.waitFor(() => expect(state.answers.shown?.request.candidates).toEqual(state.lineUp.candidates));
};
const idsOf = (state: ItemState) => state.lineUp.candidates.map(({ id }) => id);

let kept: Map<string, string>;
beforeEach(() => {
	vi.useFakeTimers();
	kept = stubStorage('localStorage');
});
afterEach(() => {
	vi.useRealTimers();
});

test('an item opens with its line-up, figures on the scale of its demand, and names that tell candidates apart', async () => {
	const { state } = opened();
	await figures(state);
	expect(state.answers.resultFor('b')!.measures.common.count).toBe(35);
	expect(state.answers.measuresOf('b')).toBe(state.answers.resultFor('b')!.measures.common);
	expect([...state.answers.names.values()]).toEqual([
		'Naive',
		'Simple exponential smoothing',
		'Combination of 2',
	]);
	expect(state.measured).toBe('pieces');
	expect(state.saved.isUnsaved).toBe(false);
});

test('turning a dial is one step however often it moves, until the hand is lifted', () => {
	const { state } = opened();
	const ses = () => state.lineUp.candidates[1]!;
	for (const alpha of [0.31, 0.35, 0.4]) state.lineUp.turn(ses(), { alpha });
	state.lineUp.lift();
	state.lineUp.turn(ses(), { alpha: 0.5 });
	expect(ses().constants).toEqual({ alpha: 0.5 });
	state.lineUp.undo();
	expect(ses().constants).toEqual({ alpha: 0.4 });
	state.lineUp.undo();
	expect(ses()).toEqual(LINE_UP[1]);
	expect(state.lineUp.canUndo).toBe(false);
	state.lineUp.redo();
	expect(ses().constants).toEqual({ alpha: 0.4 });
});

test('what changes nothing is no step', () => {
	const { state } = opened();
	state.lineUp.put({ ...LINE_UP[1]! });
	expect(state.lineUp.canUndo).toBe(false);
});

test('a candidate that is added is chosen; undo chooses who was chosen before', () => {
	const { state } = opened();
	state.lineUp.choose('b');
	state.lineUp.add({ method: 'drift' });
	expect([idsOf(state), state.lineUp.chosenId]).toEqual([['a', 'b', 'c', 'c1'], 'c1']);
	state.lineUp.undo();
	expect([idsOf(state), state.lineUp.chosenId]).toEqual([['a', 'b', 'c'], 'b']);
});

test('a copy stands below its original, with what its search may move', () => {
	const { state } = opened();
	state.lineUp.limit('b', { hold: ['alpha'] });
	state.lineUp.copy('b');
	expect(idsOf(state)).toEqual(['a', 'b', 'c1', 'c']);
	expect(state.lineUp.limitsOf('c1').hold).toEqual(['alpha']);
	expect(state.lineUp.candidates[2]).toEqual({ ...LINE_UP[1], id: 'c1' });
});

test('a candidate that goes is taken out of combinations; with its last member a combination goes', () => {
	const { state } = opened();
	state.lineUp.remove('a');
	expect(state.lineUp.candidates).toEqual([LINE_UP[1], { ...LINE_UP[2], of: ['b'], weights: [3] }]);
	state.lineUp.remove('b');
	expect(state.lineUp.candidates).toEqual([]);
	state.lineUp.undo();
	state.lineUp.undo();
	expect(state.lineUp.candidates).toEqual(LINE_UP);
});

test('best constants are searched within their limits, and what they were found at is shown', async () => {
	const { state } = opened();
	state.lineUp.limit('b', { bounds: { alpha: [0.6, 0.8] } });
	state.lineUp.findBest(['a', 'b']);
	expect(state.lineUp.candidates[0]).toEqual(LINE_UP[0]);
	expect(state.lineUp.candidates[1]).toMatchObject({
		optimise: { criterion: 'mse', bounds: { alpha: [0.6, 0.8] } },
	});
	await figures(state);
	const [alpha] = Object.values(state.lineUp.constantsOf(state.lineUp.candidates[1]!));
	expect(alpha).toBe(state.answers.resultFor('b')!.constants.alpha);
	expect(alpha).toBeGreaterThanOrEqual(0.6);
	expect(alpha).toBeLessThanOrEqual(0.8);
});

test('changes are saved together once the hand rests, and say what they were made from', async () => {
	const { state, sent } = opened();
	state.lineUp.toggleHidden('a');
	state.lineUp.turn(state.lineUp.candidates[1]!, { alpha: 0.7 });
	expect([sent, state.saved.saving.state, state.saved.isUnsaved]).toEqual([[], 'saving', true]);
	await vi.runAllTimersAsync();
	expect(sent).toEqual([
		{
			key: 'PUT /items/[code]/line-up',
			body: { version: 2, candidates: state.lineUp.candidates, hidden: ['a'] },
		},
	]);
	expect([state.saved.saving.state, state.saved.isUnsaved]).toEqual(['saved', false]);
});

test('where somebody else saved in between, mine goes on top of theirs, and theirs stays one undo away', async () => {
	const theirs: Candidate[] = [...LINE_UP, { id: 'd', method: 'drift' }];
	let version = 5;
	const { state, sent } = opened(({ key, body }) => {
		if (key.startsWith('GET')) return itemWith({ lineUp: { version, candidates: theirs, hidden: [] } });
		if ((body as { version: number }).version !== version) throw new CallError(409, 'Saved by bea.', null);
		return { version: ++version };
	});
	state.lineUp.turn(state.lineUp.candidates[1]!, { alpha: 0.9 });
	await vi.runAllTimersAsync();
	expect(state.saved.saving).toMatchObject({ state: 'conflict', message: 'Saved by bea.' });
	expect(state.saved.between).toEqual(['the line-up is another one']);
	expect(kept.size).toBe(1);
	await state.saved.putMineOnTop();
	await vi.runAllTimersAsync();
	expect(state.saved.saving.state).toBe('saved');
	expect(state.lineUp.candidates[1]!.constants).toEqual({ alpha: 0.9 });
	expect((sent.at(-1)!.body as { version: number }).version).toBe(5);
	expect(kept.size).toBe(0);
});

test('a server that is not there is asked again, and what was not saved is taken up by the next page', async () => {
	let there = false;
	const { state, sent } = opened(() => {
		if (!there) throw new CallError(0, 'Not there.', null);
		return { version: 3 };
	});
	state.lineUp.toggleHidden('b');
	await vi.advanceTimersByTimeAsync(500);
	expect(state.saved.saving.state).toBe('waiting');
	const { state: next } = opened();
	next.saved.takeUpUnsaved();
	expect([next.lineUp.hidden, next.saved.tookUp, next.lineUp.canUndo]).toEqual([['b'], true, true]);
	there = true;
	await vi.runAllTimersAsync();
	expect([state.saved.saving.state, sent.length > 1]).toEqual(['saved', true]);
});

test('nothing is adopted before its figures are there; then what is shown is sent with what was seen', async () => {
	const { state, sent } = opened(({ key }) =>
		key.includes('adopted') ? { id: 1, label: 'x' } : { version: 3 },
	);
	await expect(state.record.adopt('')).rejects.toThrow(/no figures of this candidate yet/);
	vi.useRealTimers();
	state.lineUp.choose('c');
	await figures(state);
	await state.record.adopt('steady enough');
	const { body } = sent.find(({ key }) => key.includes('adopted'))! as { body: Record<string, unknown> };
	expect(body).toMatchObject({
		candidate: LINE_UP[2],
		others: LINE_UP.slice(0, 2),
		reason: 'steady enough',
		seen: 4,
	});
	expect(body.shown).toEqual(
		state.answers.resultFor('c')!.ahead.map(({ mean, ranges }) => ({ mean, ranges, final: mean })),
	);
	expect(state.record.adoptedCount).toBe(1);
	// What is changed by hand is sent with its reason, and as it is shown; without a reason nothing is.
	const [first] = state.answers.resultFor('c')!.ahead;
	state.record.handed.change([state.origin + 1], { kind: 'rate', rate: 1.5 });
	await expect(state.record.adopt('')).rejects.toThrow(/One figure is changed by hand without a reason/);
	state.record.handed.explain('a fair');
	await state.record.adopt('');
	const again = sent.findLast(({ key }) => key.includes('adopted'))!.body as typeof body;
	expect(again.changes).toEqual([{ step: 1, by: { kind: 'rate', rate: 1.5 }, reason: 'a fair' }]);
	expect((again.shown as { final: number }[])[0]!.final).toBeCloseTo(1.5 * first!.mean!, 9);
});

test('an item that nobody has worked on opens with what is proposed, unsaved until somebody does something', async () => {
	const { state, sent } = opened(undefined, itemWith({ lineUp: { version: 0, candidates: [], hidden: [] } }));
	await state.open();
	await vi.waitFor(() => expect(state.answers.shown?.request.candidates).toEqual(state.lineUp.candidates));
	const proposal = state.answers.proposed!;
	const [mix] = state.lineUp.rows;
	expect(mix).toMatchObject({
		method: 'combination',
		weights: (proposal.candidate as { weights: number[] }).weights,
	});
	expect(state.lineUp.chosenId).toBe(mix!.id);
	expect(state.lineUp.rows.map(({ method }) => method)).toContain('naive');
	// The parts stand behind it: no row, not drawn, not compared; and there to be asked.
	expect(state.lineUp.rows.length).toBeLessThanOrEqual(3);
	expect(state.lineUp.folded.length + state.lineUp.rows.length).toBe(state.lineUp.candidates.length);
	expect(state.answers.shown!.request.aside).toEqual(state.lineUp.folded);
	expect(state.answers.resultFor(mix!.id)!.ahead.map(({ mean }) => mean)).toEqual(
		proposal.ahead.map(({ mean }) => expect.closeTo(mean!, 6)),
	);
	expect([state.saved.isUnsaved, state.lineUp.canUndo, sent]).toEqual([false, false, []]);

	state.lineUp.add({ method: 'drift' });
	expect(state.lineUp.rows.at(-1)!.method).toBe('drift');
	await vi.advanceTimersByTimeAsync(5000);
	expect(sent.map(({ key }) => key)).toEqual(['PUT /items/[code]/line-up']);
	// Without the mix its parts are gone too; undo brings all of it back.
	const before = state.lineUp.candidates;
	state.lineUp.remove(mix!.id);
	expect(state.lineUp.folded).toEqual([]);
	expect(state.lineUp.rows).toEqual(state.lineUp.candidates);
	state.lineUp.undo();
	expect(state.lineUp.candidates).toEqual(before);
});

test('a proposal joins a line-up beside what is there, and is asked for once for the same series', async () => {
	const { state } = opened();
	await figures(state);
	const proposal = (await state.answers.askProposal())!;
	expect(await state.answers.askProposal()).toBe(proposal);
	state.lineUp.takeProposal(proposal);
	expect(state.lineUp.rows.slice(0, 3).map(({ id }) => id)).toEqual(['a', 'b', 'c']);
	expect(state.lineUp.rows.filter(({ method }) => method === 'naive')).toHaveLength(1);
	expect(state.lineUp.chosen).toMatchObject({ method: 'combination', floor: 0 });
	expect(new Set(idsOf(state)).size).toBe(state.lineUp.candidates.length);
	state.lineUp.undo();
	expect(idsOf(state)).toEqual(['a', 'b', 'c']);
});
