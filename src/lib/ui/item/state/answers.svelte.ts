import { type Measures, measuresIn } from '$core/accuracy/measures';
import { measureScale } from '$core/accuracy/scales';
import type { Note } from '$core/contract/note';
import { distinctNames } from '$core/methods/names';
import { isSame } from '$core/numbers/same';
import { keyed } from '$core/numbers/keyed';
import { type Scale, WHOLE } from '$core/numbers/figure';
import type { CandidateRefusal, Evaluated, Evaluation, Reading } from '$core/questions/answer';
import type { Proposal } from '$core/questions/propose';
import type { ValidRequest } from '$core/questions/request';
import { USUAL_ORIGINS } from '$core/questions/usual';
import { workedSeries, workingTable } from '$core/questions/working-table';
import { NEWEST_RULE } from '$core/ranges/contract';
import { USUAL_HORIZON } from '$core/series/frequency';
import type { Layered } from '$core/series/layers';
import type { askArithmetic, proposeArithmetic } from '../../../browser-worker/arithmetic';
import type { Held, ProposalQuestion } from '../../../browser-worker/asking';
import { Latest } from '../../../browser-worker/latest';
import { inMark } from '../../../reader.svelte';
import type { Item } from '../../../wire/items';
import type { LineUpState } from './line-up.svelte';

/** Of the item, what questions rest on. */
interface Asked {
	readonly item: Item;
	readonly series: Layered;
	readonly scale: Scale;
}

/** What the arithmetic is asked about a line-up, and its newest answer. */
export class AnswersState {
	/** Newest answer and the request that it belongs to; one object, so that they are always in step. */
	shown: { request: ValidRequest; answer: Evaluation } | null = $state.raw(null);
	problem: string | null = $state(null);
	/** 1-based first period that every candidate is scored from; null: each from its own. */
	scoreFrom: number | null = $state(null);
	/** Whether candidates are compared over the periods that all of them share, or shown over each one's own. */
	window: 'common' | 'own' = $state('common');
	/** Periods of the holdout at the end: nothing is fitted to them, and forecasts are held against them. */
	holdout = $state(0);
	/** What candidates are compared by. */
	reading: Reading = $state('common');
	/** Whether forecasts from earlier origins are looked at. */
	trialOpen = $state(false);
	horizon = $state(12);
	level = $state(0.95);
	/** How many of the next periods are looked at as one sum, and the chance with which stock is to last for them. */
	togetherSteps = $state(3);
	service = $state(0.95);
	/** What was proposed last; null before anybody asked. */
	proposed: Proposal | null = $state.raw(null);
	/** Whether a proposal is being calculated. */
	proposing = $state(false);
	/** The proposal that was asked for last, perhaps still on its way. */
	#asked: { key: string; answer: Promise<Proposal | null> } | null = null;
	readonly #latest: Latest<ValidRequest, Evaluation>;

	constructor(
		private readonly of: Asked,
		private readonly lineUp: LineUpState,
		ask: typeof askArithmetic,
		private readonly propose: typeof proposeArithmetic,
	) {
		const { series, lineUp: saved, group } = of.item;
		this.proposing = saved.version === 0 && saved.candidates.length === 0;
		// No further than a third of what is known: beyond it ranges rest on next to nothing.
		const third = Math.max(1, Math.floor(series.values.length / 3));
		const usual = USUAL_HORIZON[series.frequency];
		// With a season that its group lends it sees further than its own figures reach.
		this.horizon = group ? usual : Math.min(usual, third);
		this.#latest = new Latest(
			async (request) => {
				const { evaluation, took } = await ask(request);
				performance.mark('evaluated', { detail: took });
				return evaluation;
			},
			(answer, request) => {
				this.shown = { request, answer };
				this.problem = null;
			},
			(error) => (this.problem = error instanceof Error ? error.message : String(error)),
		);
	}

	get request(): ValidRequest {
		const { series } = this.of;
		return {
			series: series.request as ValidRequest['series'],
			gaps: series.gapRule,
			candidates: [...this.lineUp.candidates],
			aside: [...this.lineUp.folded],
			scoreFrom: this.scoreFrom,
			window: this.window,
			horizon: this.horizon,
			levels: this.levels,
			service: this.service,
			rangeRule: NEWEST_RULE,
			holdout: this.holdout,
			trial:
				this.trialOpen || this.reading === 'trial'
					? { origins: USUAL_ORIGINS, horizon: Math.max(1, this.horizon), refit: false }
					: null,
			tracking: { kind: 'running' },
			detail: 'full',
		};
	}

	/** The levels that ranges are shown and adopted with. */
	get levels(): number[] {
		return this.level === 0.8 ? [0.8] : [0.8, this.level].sort((a, b) => a - b);
	}

	/** Asks for the figures of the line-up as it stands. */
	recompute(): void {
		this.#latest.put(this.request);
	}

	/** Waits for the newest answer. */
	settled(): Promise<void> {
		return this.#latest.settled();
	}

	/** Whether the newest answer is to what would be asked now; a trial asked beside it, or not any more, changes none of its figures. */
	get isCurrent(): boolean {
		const told = (request: ValidRequest) => ({ ...request, trial: null });
		return this.shown !== null && isSame(told(this.shown.request), told(this.request));
	}

	/** The newest answer for a candidate; it may be a dial's breadth behind the line-up. */
	answerFor(id: string): Evaluated | CandidateRefusal | undefined {
		return this.shown?.answer.candidates.find((answer) => answer.id === id);
	}

	/** The newest answer for a candidate that ran. */
	resultFor(id: string): Evaluated | undefined {
		const answer = this.answerFor(id);
		return answer?.ok ? answer : undefined;
	}

	/** The newest answer for the one that is chosen, where it ran. */
	get chosen(): Evaluated | undefined {
		return this.resultFor(this.lineUp.chosenId);
	}

	/** What is to be said of a candidate. */
	notesOf(id: string): readonly Note[] {
		const lead = this.shown?.answer.leads[this.reading];
		const notes = this.answerFor(id)?.notes ?? [];
		return lead?.id === id ? [...notes, lead.note] : notes;
	}

	/** A name for each candidate that no other one has. */
	readonly names = $derived.by(() =>
		distinctNames(this.lineUp.candidates, (id) => this.resultFor(id)?.constants, inMark),
	);

	// The same for as long as the same series was asked about.
	readonly #askedSeries = $derived(this.shown?.request.series);
	readonly #workedSeries = $derived(
		this.#askedSeries && workedSeries({ series: this.#askedSeries, gaps: this.shown!.request.gaps }),
	);
	/** The arithmetic of the chosen candidate, built when a view of the bench first asks for it. */
	readonly working = $derived.by(() => {
		const result = this.chosen;
		return result && this.shown ? workingTable(this.shown.request, result, this.#workedSeries) : null;
	});

	/** How ends of the chosen candidate's ranges are written: those of counts are whole pieces. */
	readonly rangeScale = $derived.by(() => (this.chosen?.rangeKind === 'counts' ? WHOLE : this.of.scale));

	/** Whether the figures shown are over the periods shared, or over each one's own. */
	get judged(): 'common' | 'own' {
		return this.shown?.answer.judged ?? 'common';
	}

	/** Whether the figures shown are over the same periods for all. */
	get comparable(): boolean {
		return this.reading !== 'common' || this.judged === 'common';
	}

	/** A candidate's measures by the reading that is chosen. */
	measuresOf(id: string): Measures | undefined {
		const result = this.resultFor(id);
		switch (this.reading) {
			case 'ahead':
				return result?.measures.holdout?.ahead;
			case 'step-by-step':
				return result?.measures.holdout?.oneStep;
			case 'trial':
				return result?.trial?.measures;
			default:
				return result?.measures[this.judged];
		}
	}

	/** How each measure is shown in the line-up and in the sentences about it. */
	readonly measureScales = $derived.by(() => {
		const all = this.lineUp.candidates.map(({ id }) => this.measuresOf(id));
		return keyed(measuresIn('lineUp'), (id) => measureScale(id, all));
	});

	/** Compares over the periods that all share, from this one on (1-based) or, with null, from each one's own first. */
	compareFrom(first: number | null): void {
		this.window = 'common';
		this.reading = 'common';
		this.scoreFrom = first;
		this.recompute();
	}

	/** Compares by the periods of the holdout, or by a trial. */
	compareBy(reading: Reading): void {
		this.reading = reading;
		this.recompute();
	}

	/** Shows each candidate over its own periods, which compares nothing. */
	judgeEachAlone(): void {
		this.window = 'own';
		this.reading = 'common';
		this.recompute();
	}

	/** The most periods that can be in the holdout: what is left can be fitted. */
	get mostHeld(): number {
		const { values, seasonLength } = this.of.series;
		return Math.max(0, values.length - Math.max(4, Math.min(2 * seasonLength, values.length / 2)));
	}

	/** Holds the last periods back, and compares by them; with none, all periods are fitted again. */
	holdBack(periods: number): void {
		const held = Math.max(0, Math.min(Math.floor(this.mostHeld), Math.round(periods)));
		if (held === this.holdout) return;
		if (held === 0) {
			if (this.reading !== 'trial') this.reading = 'common';
		} else if (this.holdout === 0) this.reading = 'ahead';
		this.holdout = held;
		this.recompute();
	}

	/** Has a forecast proposed for the series as it stands; null where that failed, which is said. */
	askProposal(): Promise<Proposal | null> {
		const { series, gaps } = this.request;
		const { criterion } = this.lineUp;
		const request = { series, gaps, horizon: this.horizon, levels: [0.8, 0.95], criterion };
		const key = JSON.stringify(request);
		if (this.#asked?.key !== key) this.#asked = { key, answer: this.#makeProposal(request) };
		return this.#asked.answer;
	}

	async #makeProposal(request: Held & ProposalQuestion): Promise<Proposal | null> {
		this.proposing = true;
		try {
			return (this.proposed = await this.propose(request));
		} catch (error) {
			this.problem = error instanceof Error ? error.message : String(error);
			this.#asked = null;
			return null;
		} finally {
			this.proposing = false;
		}
	}
}
