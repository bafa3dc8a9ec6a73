import { percent } from '$core/words/chance';
import { methodOf } from '$core/methods/registry';
import { type Asked, askedWords } from '../../wire/asked';
import type { Sweep } from '../../wire/sweeps';
import type { WorkerState } from '../../wire/service';
import { clock, figure, moment } from '../base/format';

const items = (count: number) => `${figure(count, 0)} ${count === 1 ? 'item' : 'items'}`;

/** Which items it is of: “20 000 items: to check, Brakes”. */
export function ofWords({ items: count, asked }: Pick<Sweep, 'items' | 'asked'>): string {
	const words = asked && askedWords(asked as Asked);
	return `${items(count)}${words ? `: ${words}` : ''}`;
}

/** What it was made for or of, in a line: the reason for adopting, the service level, the line-up that was tried. */
export function aboutWords({ reason, settings: { lineUp, service } }: Sweep): string {
	if (reason) return `“${reason}”`;
	if (service !== null) return `service level ${percent(service)}`;
	return lineUp.map((candidate) => methodOf(candidate.method).label(candidate)).join(', ');
}

/** That nobody works at sweeps just now: “no worker since 10:42”. */
export const idleWords = ({ seen }: WorkerState): string =>
	seen === null ? 'no worker is there yet' : `no worker since ${clock(seen)}`;

/** How far it is. */
export function stateWords({ items: count, done, endedAt, stopped, setApart, clearedAt }: Sweep): string {
	if (clearedAt) return `done; its rows were deleted ${moment(clearedAt)}, long after all was decided`;
	const apart = setApart.reduce((sum, each) => sum + each.items, 0);
	if (stopped) return `stopped by ${stopped.by}: ${figure(done, 0)} done, ${figure(count - done, 0)} not`;
	if (endedAt === null)
		return `${figure(done, 0)} of ${figure(count, 0)} done${apart > 0 ? `, ${figure(apart, 0)} skipped` : ''}`;
	return apart > 0 ? `ended with ${items(apart)} not done` : 'done';
}
