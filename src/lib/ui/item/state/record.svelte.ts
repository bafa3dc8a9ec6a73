import { madeFrom } from '$core/methods/registry';
import type { ItemParts } from '../../../wire/groups';
import type { Item } from '../../../wire/items';
import type { AdoptedForecast } from '../../../wire/records';
import type { ItemGrades } from '../../../wire/status';
import type { call as callServer } from '../../base/call';
import { ThoughtBetter } from '../../base/doing.svelte';
import { adoptsInThisVisit, rememberAdopting } from './adopts-once';
import type { AnswersState } from './answers.svelte';
import { HandedOver } from './handed-over.svelte';
import type { LineUpState } from './line-up.svelte';
import type { SavedState } from './saved.svelte';

/** Of the item, what adopting rests on. */
interface Adopting {
	readonly item: Item;
	/** Ordinal of the last period known. */
	readonly origin: number;
	refreshStatus(): Promise<void>;
}

/** What was adopted for an item, what it comes to, and what would be adopted now. */
export class RecordState {
	adopted: AdoptedForecast | null = $state.raw(null);
	adoptedCount = $state(0);
	/** Of a sum: what is handed over for its items, added up, by period. */
	itsItems: ItemParts['ahead'] = $state.raw([]);
	/** What is put in place of computed figures before they are handed over. */
	readonly handed: HandedOver;
	/** What was said and what came, period by period; null until somebody looks. */
	graded: ItemGrades | null = $state.raw(null);
	/** A record that is laid on the strip, over what came. */
	laid: AdoptedForecast | null = $state.raw(null);
	/** Asked before the first adoption of a visit; null where nobody is asked. */
	asksToAdopt: { go: (sure: boolean) => void } | null = $state.raw(null);

	constructor(
		private readonly of: Adopting,
		private readonly lineUp: LineUpState,
		private readonly answers: AnswersState,
		private readonly saved: SavedState,
		private readonly call: typeof callServer,
	) {
		this.takeOver(of.item);
		this.handed = new HandedOver(of.item.adopted, of.origin);
	}

	/** Takes over what is adopted now. */
	takeOver({ adopted, adoptedCount }: Pick<Item, 'adopted' | 'adoptedCount'>): void {
		this.adopted = adopted;
		this.adoptedCount = adoptedCount;
	}

	/** What is handed over of the chosen candidate, a figure a step. */
	readonly finals: readonly (number | null)[] = $derived.by(() =>
		(this.answers.chosen?.ahead ?? []).map(({ step, mean }) =>
			this.handed.finalOf(this.of.origin + step, mean),
		),
	);

	/** Whether something came in since the newest record was adopted, so that it can be updated. */
	get canUpdate(): boolean {
		const { adopted } = this;
		return (
			adopted !== null && (adopted.saw !== this.of.item.seen || adopted.sawLayers !== this.saved.seenLayers)
		);
	}

	/** Makes the chosen candidate the item's forecast, as it is shown. @throws ThoughtBetter where its user thought better of it */
	async adopt(reason: string): Promise<void> {
		const { answers, lineUp, saved } = this;
		const { code, seen, lineUp: known } = this.of.item;
		if (answers.holdout > 0)
			throw new Error(
				'There is a holdout, so constants come from the other periods alone. Set it to 0, check the figures, then adopt.',
			);
		// What is adopted is made from what is saved, and is what is shown; a line-up that was proposed is saved with it.
		if (known.version === 0) saved.put();
		await Promise.all([saved.flush(), answers.settled()]);
		if (saved.isUnsaved)
			throw new Error('Nothing is adopted before this is saved; the reason is shown beside the line-up.');
		const { horizon, chosen: result } = answers;
		const { chosen } = lineUp;
		const { origin } = this.of;
		const unexplained = this.handed.unexplained(origin + 1, origin + horizon).length;
		if (unexplained > 0)
			throw new Error(
				`${unexplained === 1 ? 'One figure is' : `${unexplained} figures are`} changed by hand without a reason. Say why, or undo the change.`,
			);
		if (!chosen || !result || !answers.isCurrent)
			throw new Error('There are no figures of this candidate yet. Look at them first, then adopt.');
		if (!(await this.#sureToAdopt())) throw new ThoughtBetter();
		await this.#put(() =>
			this.call(
				'POST /items/[code]/adopted',
				{ code },
				{
					candidate: chosen,
					others: madeFrom(chosen, lineUp.candidates),
					scoreFrom: answers.scoreFrom,
					horizon,
					// The levels that are shown.
					levels: answers.levels,
					service: answers.service,
					...this.handed.request(origin, horizon),
					reason,
					seen,
					seenLayers: saved.seenLayers,
					seenRecord: this.adopted?.id ?? null,
					shown: result.ahead.map(({ mean, ranges }, i) => ({ mean, ranges, final: this.finals[i] ?? null })),
				},
			),
		);
	}

	/** Adopts the newest record again on newer actuals. */
	async updateAdopted(reason = ''): Promise<void> {
		await this.saved.flush();
		const { code, seen } = this.of.item;
		await this.#put(() =>
			this.call('POST /items/[code]/updated', { code }, { seen, seenLayers: this.saved.seenLayers, reason }),
		);
	}

	/** Looks up how what was adopted compares with what came. */
	async loadGrades(): Promise<void> {
		this.graded = await this.call('GET /items/[code]/grades', { code: this.of.item.code });
	}

	async #put(made: () => Promise<AdoptedForecast>): Promise<void> {
		try {
			this.adopted = await made();
		} catch (error) {
			this.saved.sayOvertaken(error);
			throw error;
		}
		this.adoptedCount++;
		// Whoever goes on to the next item does not wait for how this one stands now.
		void this.of.refreshStatus().catch(() => undefined);
	}

	/** Whether to adopt for good: asked once a visit. */
	async #sureToAdopt(): Promise<boolean> {
		if (adoptsInThisVisit()) return true;
		const sure = await new Promise<boolean>((go) => (this.asksToAdopt = { go }));
		this.asksToAdopt = null;
		if (sure) rememberAdopting();
		return sure;
	}
}
