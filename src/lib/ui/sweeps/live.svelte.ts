import { SvelteMap } from 'svelte/reactivity';
import type { Sweep } from '../../wire/sweeps';
import type { WorkerState } from '../../wire/service';
import { call } from '../base/call';

/** Sweeps as they are now: told by the server as long as the page is there, also after it was gone for a while. */
export class LiveSweeps {
	readonly #sweeps = new SvelteMap<number, Sweep>();
	/** What works them off; null until it is told. */
	worker = $state.raw<WorkerState | null>(null);

	constructor(known: readonly Sweep[]) {
		for (const sweep of known) this.#sweeps.set(sweep.id, sweep);
	}

	get(id: number): Sweep | undefined {
		return this.#sweeps.get(id);
	}

	put(sweep: Sweep): void {
		this.#sweeps.set(sweep.id, sweep);
	}

	/** The newest first. */
	get all(): Sweep[] {
		return [...this.#sweeps.values()].sort((a, b) => b.id - a.id);
	}

	/** Listens to the server. @returns ends it */
	listen(): () => void {
		let source = this.#open();
		const refused = () => {
			// It comes back by itself where the connection breaks; one that was refused does not.
			if (source.readyState !== EventSource.CLOSED) return;
			void call('GET /me', {}).then(
				() => {
					source = this.#open();
					source.addEventListener('error', refused);
				},
				() => undefined,
			);
		};
		source.addEventListener('error', refused);
		return () => source.close();
	}

	#open(): EventSource {
		// All of them are told again whenever it is connected.
		const source = new EventSource('/api/v1/progress');
		source.addEventListener('sweep', (event: MessageEvent<string>) =>
			this.put(JSON.parse(event.data) as Sweep),
		);
		source.addEventListener('worker', (event: MessageEvent<string>) => {
			this.worker = JSON.parse(event.data) as WorkerState;
		});
		return source;
	}
}
