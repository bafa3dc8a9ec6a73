import { CallError, messageOf } from './call';

/** Thrown where its user was asked and thought better of it: there is nothing to say against that. */
export class ThoughtBetter extends Error {
	override name = 'ThoughtBetter';
}

/** Something that is done on a press: whether it goes on, and what was said against it. */
export class Doing {
	busy = $state(false);
	refusal = $state<string | null>(null);
	/** Whether it was refused since something came in meanwhile. */
	overtaken = $state(false);

	/** Does it. What is said against it is shown, not thrown. */
	async run(work: () => Promise<void>): Promise<void> {
		this.busy = true;
		this.refusal = null;
		this.overtaken = false;
		try {
			await work();
		} catch (error) {
			if (error instanceof ThoughtBetter) return;
			this.refusal = messageOf(error);
			this.overtaken = error instanceof CallError && error.status === 409;
		} finally {
			this.busy = false;
		}
	}
}

/** Leaves for another page that is built from nothing; what was pressed stays pressed until it is there. */
export function leaveFor(address: string): Promise<never> {
	location.assign(address);
	return new Promise(() => undefined);
}
