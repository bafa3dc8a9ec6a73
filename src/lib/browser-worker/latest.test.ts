import { expect, test } from 'vitest';
import { Latest } from './latest';

/** A worker whose answers are given by hand, in any order. */
function byHand() {
	const open: { question: number; answer: () => void; fail: () => void }[] = [];
	const shown: number[] = [];
	const failed: number[] = [];
	const latest = new Latest<number, number>(
		(question) =>
			new Promise((resolve, reject) => {
				open.push({ question, answer: () => resolve(question * 10), fail: () => reject(new Error('no')) });
			}),
		(answer) => shown.push(answer),
		(_error, question) => failed.push(question),
	);
	const settle = () => new Promise((done) => setImmediate(done));
	return { open, shown, failed, latest, settle };
}

test('of many questions put while one is answered, only the newest is asked', async () => {
	const { open, shown, latest, settle } = byHand();
	for (let i = 1; i <= 5; i++) latest.put(i);
	expect(open.map(({ question }) => question)).toEqual([1]);
	open[0]!.answer();
	await settle();
	expect(open.map(({ question }) => question)).toEqual([1, 5]);
	open[1]!.answer();
	await settle();
	expect(shown).toEqual([10, 50]);
	expect(latest.busy).toBe(false);
});

test('a failure is told only where no newer question follows, and the next question is asked all the same', async () => {
	const { open, shown, failed, latest, settle } = byHand();
	latest.put(1);
	latest.put(2);
	open[0]!.fail();
	await settle();
	expect(failed).toEqual([]);
	open[1]!.fail();
	await settle();
	expect(failed).toEqual([2]);
	latest.put(3);
	open[2]!.answer();
	await settle();
	expect(shown).toEqual([30]);
});

test('whoever waits for all to be answered hears of it once the newest is', async () => {
	const { open, shown, latest, settle } = byHand();
	await latest.settled();
	latest.put(1);
	latest.put(2);
	let heard = false;
	void latest.settled().then(() => (heard = true));
	open[0]!.answer();
	await settle();
	expect(heard).toBe(false);
	open[1]!.answer();
	await settle();
	expect([heard, shown]).toEqual([true, [10, 20]]);
});
