import { beforeEach, expect, test, vi } from 'vitest';
import { stubStorage } from '../../../../tests/support/storage';
import { TableReader } from '../../reading/table-reader';
import type { StoredSeries } from '../../wire/items';
import { CallError } from '../base/call';
import { BringInState } from './bring-in-state.svelte';

const MONTHS = Array.from({ length: 12 }, (_, t) => `2024-${String(t + 1).padStart(2, '0')}`);
const ONE = MONTHS.map((month, t) => `${month};${20 + t}`).join('\n');
const TWO = [
	`;${MONTHS.join(';')}`,
	...['Bell', 'Stand'].map((name) => `${name};${MONTHS.map((_, t) => 30 + t).join(';')}`),
].join('\n');

/** Tables are read as on the page; the server has some items, and writes down what it is sent. */
function opened(stored: Record<string, StoredSeries> = {}) {
	const sent: { address: string; asked: unknown }[] = [];
	let refusal: CallError | null = null;
	const reader = new TableReader();
	const state = new BringInState({
		reading: () => reader as never,
		call: (async (_: string, __: object, { codes }: { codes: string[] }) =>
			codes.flatMap((code) => stored[code] ?? [])) as never,
		sendTable: (async (address: string, asked: { items: { code: string }[] }) => {
			sent.push({ address, asked });
			if (refusal) throw refusal;
			return asked.items.map(({ code }) => ({ code, created: true, added: 12, corrected: 0, same: 0 }));
		}) as never,
		sendFile: (() => ({ done: Promise.reject(new Error('no stream here')), stop: () => undefined })) as never,
	});
	return { state, sent, refuse: (error: CallError) => (refusal = error) };
}
const read = (state: BringInState, items: number) =>
	vi.waitFor(() => expect(state.incoming).toHaveLength(items));

beforeEach(() => void stubStorage('sessionStorage'));

test('what is typed before a table can be read is there when it can, and is sent', async () => {
	const { state, sent } = opened();
	state.pickSingle({ code: 'K-77' });
	state.type('nothing to read here');
	await vi.waitFor(() => expect(state.reading?.problem).toMatch(/no figure/));
	state.pickSingle({ name: 'Key ring' });
	state.type(ONE);
	await read(state, 1);
	expect([state.waitingFor, state.incoming[0]]).toEqual([
		null,
		expect.objectContaining({ code: 'K-77', name: 'Key ring' }),
	]);
	expect(await state.bringIn()).toBe('K-77');
	expect(sent[0]).toMatchObject({
		address: '/api/v1/bring-in',
		asked: { items: [{ from: '', code: 'K-77', name: 'Key ring' }] },
	});
	expect([state.text, state.reading]).toEqual(['', null]);
});

test('an item without a code is proposed one from its name, the next that is free', async () => {
	const { state } = opened({
		'key-ring': {
			code: 'key-ring',
			name: 'Key ring',
			unit: '',
			frequency: 'month',
			labels: [],
			first: 2024 * 12,
			values: [1],
		},
	});
	state.takeText(ONE);
	await read(state, 1);
	state.pickSingle({ name: 'Key ring' });
	await vi.waitFor(() => expect(state.proposed).toBe('key-ring-2'));
	expect([state.typedCode, state.incoming[0]!.code]).toEqual(['', 'key-ring-2']);
	state.pickSingle({ code: 'mine' });
	expect(state.typedCode).toBe('mine');
});

test('of several items each may be left out or renamed; two of one code wait for another', async () => {
	const { state, sent } = opened();
	state.takeText(TWO);
	await read(state, 2);
	expect(state.takenItems.map(({ code }) => code)).toEqual(['Bell', 'Stand']);
	state.pick('Stand', { code: 'Bell' });
	expect(state.waitingFor).toMatch(/Bell stands there twice/);
	state.pick('Stand', { code: '97-130', name: 'Stand, rear' });
	state.pick('Bell', { skipped: true });
	expect(await state.bringIn()).toBe('97-130');
	expect(sent[0]!.asked).toMatchObject({ items: [{ from: 'Stand', code: '97-130', name: 'Stand, rear' }] });
	expect(sent).toHaveLength(1);
});

test('an item that is there already is compared, period by period', async () => {
	const { state } = opened({
		Bell: {
			code: 'Bell',
			name: 'Bell, brass',
			unit: 'pieces',
			frequency: 'month',
			labels: [],
			first: 2024 * 12,
			values: [30, 99],
		},
	});
	state.takeText(TWO);
	await read(state, 2);
	await vi.waitFor(() => expect(state.incoming[0]!.stored).not.toBeNull());
	expect(state.incoming[0]).toMatchObject({
		name: 'Bell, brass',
		unit: 'pieces',
		comparison: { added: 10, same: 1, corrected: [{ period: 2024 * 12 + 1, from: 99, to: 31 }] },
	});
});

test('a choice by hand reads again; another cut lets roles by position go; all can be taken back', async () => {
	const { state } = opened();
	state.takeText(ONE);
	await read(state, 1);
	state.decide({ columns: { 0: 'ignored' } });
	await vi.waitFor(() => expect(state.reading!.columns[0]).toBe('ignored'));
	state.decide({ delimiter: ',' });
	expect(state.choices).toMatchObject({ delimiter: ',', columns: undefined });
	state.decideNothing();
	await vi.waitFor(() => expect(state.reading!.columns).toEqual(['period', 'figure']));
});

test('a refusal says where it lies, and what was pasted outlives it and a reload', async () => {
	const { state, refuse } = opened();
	state.takeText(ONE);
	state.pickSingle({ code: 'taken', name: 'Key ring' });
	await read(state, 1);
	refuse(
		new CallError(422, 'That code is taken.', {
			message: 'That code is taken.',
			issues: [{ path: 'code', message: 'taken' }],
		}),
	);
	expect(await state.bringIn()).toBeNull();
	expect([state.refusal, state.sending, state.text]).toEqual([
		{ message: 'That code is taken.', path: 'code' },
		false,
		ONE,
	]);
	const { state: next } = opened();
	next.restore();
	await read(next, 1);
	expect(next.incoming[0]).toMatchObject({ code: 'taken', name: 'Key ring' });
});

test('a file is read by its bytes, its name a first guess at the code', async () => {
	const { state, sent } = opened();
	await state.takeFile(new File([ONE], '70-214.csv'));
	await read(state, 1);
	expect([state.isLarge, state.incoming[0]!.code, state.incoming[0]!.name]).toEqual([
		false,
		'70-214',
		'70-214',
	]);
	await state.bringIn();
	expect(sent[0]!.asked).toMatchObject({ fileName: '70-214.csv', items: [{ code: '70-214' }] });
});
