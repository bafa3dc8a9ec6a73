import { log } from './log';

/**
 * Does something at once and then again and again, never twice at a time. What fails is logged and tried again.
 * @param pause milliseconds
 * @param failed what is logged then
 * @returns ends it
 */
export function againAndAgain(pause: number, work: () => Promise<unknown>, failed: string): () => void {
	let busy = false;
	const look = async () => {
		if (busy) return;
		busy = true;
		try {
			await work();
		} catch (error) {
			log.warn({ reason: String(error) }, failed);
		}
		busy = false;
	};
	void look();
	const again = setInterval(() => void look(), pause);
	return () => clearInterval(again);
}
