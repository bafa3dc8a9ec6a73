import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { CallError } from '../../base/call';
import { SaveQueue } from './save-queue';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** A server whose answers are given by hand. */
function byHand() {
	const open: { work: number; leaving: boolean; take: () => void; fail: (status: number) => void }[] = [];
	const shown: string[] = [];
	const queue = new SaveQueue<number>({
		send: (work, leaving) =>
			new Promise((resolve, reject) => {
				open.push({
					work,
					leaving,
					take: resolve,
					fail: (status) => reject(new CallError(status, `no, ${status}`, null)),
				});
			}),
		show: ({ state }) => shown.push(state),
	});
	/** Lets everything happen that waits for nothing but its turn. */
	const settle = () => vi.advanceTimersByTimeAsync(0);
	const soon = () => vi.advanceTimersByTimeAsync(400);
	return { open, shown, queue, settle, soon };
}

test('slow: what changes meanwhile waits, the newest alone follows, and no two are under way at once', async () => {
	const { open, queue, soon } = byHand();
	queue.put(1);
	await soon();
	queue.put(2);
	await soon();
	queue.put(3);
	await soon();
	void queue.flush();
	void queue.flush();
	await soon();
	expect(open.map(({ work }) => work)).toEqual([1]);
	open[0]!.take();
	await soon();
	expect(open.map(({ work }) => work)).toEqual([1, 3]);
	expect(queue.isSaved).toBe(false);
	open[1]!.take();
	await soon();
	expect(queue.isSaved).toBe(true);
	expect(queue.saving.state).toBe('saved');
	expect(open).toHaveLength(2);
});

test('a dial that turns is one save', async () => {
	const { open, queue, soon } = byHand();
	for (let i = 1; i <= 20; i++) queue.put(i);
	await soon();
	expect(open.map(({ work }) => work)).toEqual([20]);
});

test('refused: nothing is tried again by itself, and the next change is', async () => {
	const { open, queue, soon, settle } = byHand();
	queue.put(1);
	await soon();
	open[0]!.fail(422);
	await settle();
	expect(queue.saving).toEqual({ state: 'refused', message: 'no, 422' });
	expect(queue.isSaved).toBe(false);
	await vi.advanceTimersByTimeAsync(60_000);
	expect(open).toHaveLength(1);
	queue.put(2);
	await soon();
	open[1]!.take();
	await settle();
	expect(queue.saving.state).toBe('saved');
});

test.each([0, 500, 503])(
	'lost connection (%i): it is tried again until it is taken, with what came meanwhile',
	async (status) => {
		const { open, queue, soon, settle } = byHand();
		queue.put(1);
		await soon();
		open[0]!.fail(status);
		await settle();
		expect(queue.saving.state).toBe('waiting');
		await vi.advanceTimersByTimeAsync(3000);
		expect(open.map(({ work }) => work)).toEqual([1, 1]);
		queue.put(2);
		open[1]!.fail(status);
		await vi.advanceTimersByTimeAsync(3000);
		expect(open.map(({ work }) => work)).toEqual([1, 1, 2]);
		open[2]!.take();
		await settle();
		expect(queue.isSaved).toBe(true);
	},
);

test('conflict: nothing more is sent until somebody decides', async () => {
	const { open, queue, soon, settle, shown } = byHand();
	queue.put(1);
	await soon();
	open[0]!.fail(409);
	await settle();
	queue.put(2);
	await queue.flush();
	await vi.advanceTimersByTimeAsync(60_000);
	expect(open).toHaveLength(1);
	expect(queue.saving.state).toBe('conflict');
	queue.resume(7);
	await soon();
	expect(open[1]!.work).toBe(7);
	open[1]!.take();
	await settle();
	expect(shown.at(-1)).toBe('saved');
});

test('closed tab: what waits for its time is sent at once, and may outlive the page', async () => {
	const { open, queue, settle } = byHand();
	queue.put(1);
	void queue.flush(true);
	await settle();
	expect(open.map(({ work, leaving }) => [work, leaving])).toEqual([[1, true]]);
});

test('whoever waits for all to be saved hears of it, also where it fails', async () => {
	const { open, queue, soon, settle } = byHand();
	queue.put(1);
	await soon();
	queue.put(2);
	let heard = false;
	void queue.flush().then(() => (heard = true));
	open[0]!.take();
	await settle();
	expect(heard).toBe(false);
	open[1]!.fail(0);
	await settle();
	expect(heard).toBe(true);
	expect(queue.saving.state).toBe('waiting');
});
