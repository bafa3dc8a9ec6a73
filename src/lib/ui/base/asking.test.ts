import { expect, test, vi } from 'vitest';
import { asking } from './asking';

const navigation = vi.hoisted(() => ({ goto: vi.fn<(address: string) => Promise<void>>() }));
vi.mock('$app/navigation', () => navigation);

test('what is changed while an answer is on its way is laid over what was asked for, not over what is shown', async () => {
	const arrivals: (() => void)[] = [];
	navigation.goto.mockImplementation(() => new Promise((done) => arrivals.push(done)));
	let shown = { sort: 'attention', words: '', which: 'all' };
	const ask = asking(
		() => shown,
		(asked) => Object.values(asked).join('/'),
	);
	const asked = () => navigation.goto.mock.lastCall![0];

	ask({ sort: 'code' });
	ask({ words: 'pedal' });
	expect(asked()).toBe('code/pedal/all');
	// The first one is there, the second is still on its way.
	arrivals[0]!();
	await Promise.resolve();
	ask({ which: 'look' });
	expect(asked()).toBe('code/pedal/look');
	for (const arrive of arrivals) arrive();
	await new Promise((done) => setImmediate(done));

	// All of it came, and then somebody went back.
	shown = { sort: 'miss', words: '', which: 'all' };
	ask({ words: 'bell' });
	expect(asked()).toBe('miss/bell/all');
});
