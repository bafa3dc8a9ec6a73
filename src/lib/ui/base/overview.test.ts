import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { watchOverview } from './overview';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Answers one after the other, the last of them for good. */
function answers(...working: number[]) {
	let asked = 0;
	vi.stubGlobal('fetch', () =>
		Promise.resolve(Response.json({ working: working[Math.min(asked++, working.length - 1)] })),
	);
	return () => asked;
}

test('it is told again as long as something is being calculated, and then no more', async () => {
	const asked = answers(12, 3, 0);
	const told: number[] = [];
	watchOverview(
		({ working }) => told.push(working),
		() => expect.unreachable(),
	);
	await vi.advanceTimersByTimeAsync(60_000);
	expect([told, asked()]).toEqual([[12, 3, 0], 3]);
});

test('whoever does not want to know any more is not told', async () => {
	const asked = answers(5);
	const end = watchOverview(
		() => undefined,
		() => expect.unreachable(),
	);
	await vi.advanceTimersByTimeAsync(10);
	end();
	await vi.advanceTimersByTimeAsync(60_000);
	expect(asked()).toBe(1);
});

test('what goes wrong is said', async () => {
	vi.stubGlobal('fetch', () => Promise.reject(new Error('gone')));
	const said: unknown[] = [];
	watchOverview(
		() => expect.unreachable(),
		(error) => said.push(error),
	);
	await vi.advanceTimersByTimeAsync(10);
	expect(said).toHaveLength(1);
});
