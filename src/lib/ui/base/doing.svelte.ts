import { messageOf } from './call';

/** Something that is done on a press: whether it goes on, and what was said against it. */
export class Doing {
	busy = $state(false);
	refusal = $state<string | null>(null);

	/** Does it. What is said against it is shown, not thrown. */
	async run(work: () => Promise<void>): Promise<void> {
		this.busy = true;
		this.refusal = null;
		try {
			await work();
		} catch (error) {
			this.refusal = messageOf(error);
		} finally {
			this.busy = false;
		}
	}
}
