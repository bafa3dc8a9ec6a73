import type { Candidate } from '$core/methods/registry';
import { expect, test } from 'vitest';
import { NO_LAYERS } from '$core/series/layers';
import type { Item } from '../../../wire/items';
import type { RecordedEntry } from '$core/series/layer-entries';
import { CallError } from '../../base/call';
import { ItemSaver, type Work } from './item-saver';

const naive: Candidate = { id: 'a', method: 'naive' };
const entry = (id: number): RecordedEntry => ({
	id,
	kind: 'left-out',
	period: id,
	setting: true,
	at: '',
	by: 'anna',
});

const itemWith = (version: number, newest: number, work: Partial<Work> = {}): Item =>
	({
		code: '10-1',
		lineUp: { version, candidates: work.candidates ?? [naive], hidden: work.hidden ?? [] },
		layers: {
			layers: work.layers ?? NO_LAYERS,
			newest,
			history: Array.from({ length: newest }, (_, i) => entry(newest - i)),
		},
	}) as unknown as Item;

/** A server that says what it was sent. */
function server(answers: Record<string, () => unknown>) {
	const sent: [string, unknown][] = [];
	const call = async (key: string, { code }: { code: string }, body?: unknown) => {
		const said = key.replace('[code]', code);
		sent.push([said, body]);
		return answers[said.slice(said.lastIndexOf('/'))]!();
	};
	return { sent, call: call as never };
}

const leftOut = (...periods: number[]): Work => ({
	candidates: [naive],
	hidden: [],
	layers: { ...NO_LAYERS, leftOut: periods },
});

test('layers go first, with what was seen of them; then the line-up, with its version; what is the same is not sent', async () => {
	const { sent, call } = server({
		'/layers': () => ({ layers: NO_LAYERS, newest: 9, history: [entry(9)] }),
		'/line-up': () => ({ version: 4 }),
	});
	const saver = new ItemSaver(itemWith(3, 7), () => 'x', call);
	const ses: Candidate = { id: 'b', method: 'ses' };
	await saver.send({ ...leftOut(5), candidates: [naive, ses] });
	expect(sent).toEqual([
		['POST /items/x/layers', { seen: 7, entries: [{ kind: 'left-out', period: 5, setting: true }] }],
		['PUT /items/x/line-up', { version: 3, candidates: [naive, ses], hidden: [] }],
	]);
	expect(saver.seenLayers).toBe(9);
	await saver.send({ ...leftOut(5), candidates: [naive, ses] });
	expect(sent).toHaveLength(2);
	await saver.send({ ...leftOut(), candidates: [naive, ses] });
	expect(sent[2]![1]).toEqual({ seen: 9, entries: [{ kind: 'left-out', period: 5, setting: null }] });
});

test('layers that were saved are not sent again when the line-up after them was not', async () => {
	let down = true;
	const { sent, call } = server({
		'/layers': () => ({ layers: NO_LAYERS, newest: 1, history: [] }),
		'/line-up': () => {
			if (down) throw new CallError(0, 'gone', null);
			return { version: 1 };
		},
	});
	const saver = new ItemSaver(itemWith(0, 0), () => 'x', call);
	const work = { ...leftOut(5), candidates: [] };
	await expect(saver.send(work)).rejects.toThrow('gone');
	down = false;
	await saver.send(work);
	expect(sent.map(([what]) => what)).toEqual([
		'POST /items/x/layers',
		'PUT /items/x/line-up',
		'PUT /items/x/line-up',
	]);
});

test('catching up lays what was changed here over what came in between, and says what that was', () => {
	const saver = new ItemSaver(itemWith(1, 2, leftOut(3)), () => 'x', server({}).call);
	const theirs: Work = { ...leftOut(3, 8), candidates: [{ id: 'z', method: 'drift' }] };
	const { merged, between } = saver.catchUp(itemWith(2, 4, theirs), leftOut(5));
	// 3 was put back here, 5 left out here, 8 left out there; the line-up was only changed there.
	expect([...merged.layers.leftOut].sort()).toEqual([5, 8]);
	expect(merged.candidates).toEqual(theirs.candidates);
	expect(between.map(({ id }) => id)).toEqual([4, 3]);
	expect(saver.seenLayers).toBe(4);
});
