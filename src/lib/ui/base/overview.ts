import type { Overview } from '../../wire/list';
import { call } from './call';

/** Pause in milliseconds before it is asked again how items stand, while that is being calculated. */
const AGAIN = 700;

/**
 * What is said over all items, told at once and again as long as it is being calculated how items stand.
 * @returns ends the telling
 */
export function watchOverview(
	take: (overview: Overview) => void,
	fail: (error: unknown) => void,
): () => void {
	let later: ReturnType<typeof setTimeout> | undefined;
	let ended = false;
	const look = async () => {
		try {
			const overview = await call('GET /overview', {});
			if (ended) return;
			take(overview);
			if (overview.working > 0) later = setTimeout(() => void look(), AGAIN);
		} catch (error) {
			if (!ended) fail(error);
		}
	};
	void look();
	return () => {
		ended = true;
		clearTimeout(later);
	};
}
