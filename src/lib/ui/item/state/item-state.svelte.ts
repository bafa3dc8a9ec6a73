import { type Scale, scaleWords, usualScale, writtenDecimals } from '$core/numbers/figure';
import { neverBelow, shownRange } from '$core/ranges/shown';
import { applyLayers, type Layered } from '$core/series/layers';
import { seasonAt } from '$core/series/series';
import { askArithmetic, proposeArithmetic } from '../../../browser-worker/arithmetic';
import type { Item, ItemChange } from '../../../wire/items';
import { call as callServer } from '../../base/call';
import { AnswersState } from './answers.svelte';
import { LineUpState } from './line-up.svelte';
import { RecordState } from './record.svelte';
import { SavedState } from './saved.svelte';

/** One item on its page: its figures, and by themselves its line-up, the answers to it, its records, and what of it is saved. */
export class ItemState {
	/** As it was loaded, or caught up with. */
	item: Item = $state.raw({} as Item);
	/** How computed figures are shown, and actuals beside them. */
	readonly scale: Scale;
	readonly actualScale: Scale;
	/** Decimals of actuals where they stand, and are typed, as they were brought in. */
	readonly actualDecimals: number;
	/** Places of a computed figure that is spelled out as it is. */
	readonly decimals: number;
	readonly unit: string;
	/** What the figures on that scale are: “pieces”, “€, millions”. */
	readonly measured: string;
	readonly lineUp: LineUpState;
	readonly answers: AnswersState;
	readonly record: RecordState;
	readonly saved: SavedState;
	readonly #call: typeof callServer;

	/** @param ends the arithmetic and the server */
	constructor(
		item: Item,
		chosenId: string | null,
		ends = { ask: askArithmetic, call: callServer, propose: proposeArithmetic },
		/** Whether whoever works on it may: what others try stays on their page. */
		saves = true,
	) {
		this.#call = ends.call;
		this.item = item;
		this.unit = item.unit;
		this.scale = usualScale(item.series.values);
		this.decimals = Math.max(0, this.scale.decimals - this.scale.power);
		this.actualDecimals = writtenDecimals(item.series.values);
		this.actualScale =
			this.scale.power === 0
				? { power: 0, decimals: Math.min(this.actualDecimals, this.scale.decimals + 2) }
				: this.scale;
		this.measured = [item.unit, scaleWords(this.scale)].filter(Boolean).join(', ');
		this.lineUp = new LineUpState(
			item,
			chosenId,
			() => this.item.adopted?.candidate.method,
			(id) => this.answers.resultFor(id)?.constants,
			(saves) => {
				this.answers.recompute();
				if (saves) this.saved.put();
			},
		);
		this.answers = new AnswersState(this, this.lineUp, ends.ask, ends.propose);
		this.saved = new SavedState(this, this.lineUp, ends.call, saves);
		this.record = new RecordState(this, this.lineUp, this.answers, this.saved, ends.call);
	}

	/** The item's series with its layers laid over it. */
	readonly series = $derived.by((): Layered => {
		const { series, group } = this.item;
		return applyLayers(series, series.frequency, series.seasonLength, this.lineUp.layers, group);
	});

	/** Season of the first period, 1 … P. */
	readonly firstSeason = $derived.by(() => {
		const { frequency, first, seasonLength } = this.series;
		return seasonAt({ values: new Float64Array(0), frequency, first, seasonLength }, 1);
	});

	/** Ordinal of the last period known. */
	get origin(): number {
		return this.series.first + this.series.values.length - 1;
	}

	/** Whether its demand never was below zero. */
	readonly neverBelow = $derived.by(() => neverBelow(this.series.worked));

	/** A range of the item as it is shown. */
	rangeShown(range: readonly [number, number] | null | undefined): readonly [number, number] | null {
		return shownRange(range, this.neverBelow);
	}

	/** Opens the item: with work that could not be saved, with its line-up, or with what is proposed where nobody worked on it yet. */
	async open(): Promise<void> {
		const { answers, lineUp } = this;
		this.saved.takeUpUnsaved();
		if (this.item.lineUp.version === 0 && lineUp.candidates.length === 0) {
			const proposal = await answers.askProposal();
			if (proposal) lineUp.begin(proposal);
		}
		answers.recompute();
	}

	/** Begins on what `open` will ask for, before the page is drawn. */
	prepare(): void {
		if (this.answers.proposing) void this.answers.askProposal();
	}

	/** Loads the item again, and takes over what it is now. */
	async load(): Promise<Item> {
		this.item = await this.#call('GET /items/[code]', { code: this.item.code });
		this.record.takeOver(this.item);
		return this.item;
	}

	/** How the item stands now; what it looks like otherwise stays as it was opened. */
	async refreshStatus(): Promise<void> {
		const { status } = await this.#call('GET /items/[code]', { code: this.item.code });
		this.item = { ...this.item, status };
	}

	/** Hides the item until its next actual, or shows it again. */
	async hide(hidden: boolean, words = ''): Promise<void> {
		const { code, seen } = this.item;
		await this.#call('POST /items/[code]/hidden', { code }, { hidden, words, seen });
		await this.refreshStatus();
	}

	/** Renames or labels the item, retires it, or brings it back. */
	async change(change: Omit<ItemChange, 'seen' | 'reason'> & { reason?: string }): Promise<void> {
		await this.saved.flush();
		const { code, name, unit, retiredAt, plan, labels } = this.item;
		const seen = { code, name, unit, retired: retiredAt !== null, plan, labels };
		const changed = await this.#call('PATCH /items/[code]', { code }, { ...change, seen });
		this.item = {
			...this.item,
			code: changed.code,
			name: changed.name,
			unit: changed.unit,
			retiredAt: changed.retiredAt,
			plan: changed.plan,
			labels: changed.labels,
			status: changed.status,
			changes: changed.changes,
		};
	}
}
