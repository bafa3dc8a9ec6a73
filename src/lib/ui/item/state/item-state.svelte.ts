import { type Measures, measuresIn } from '$core/accuracy/measures';
import { measureScale } from '$core/accuracy/scales';
import type { CandidateRefusal, Evaluated, Evaluation, Reading } from '$core/questions/answer';
import type { Constant, OptimiseInput } from '$core/contract/candidate';
import type { Criterion } from '$core/contract/criteria';
import {
	type Candidate,
	type Settings,
	constantsOfCandidate,
	madeFrom,
	tunedSettings,
	withoutUnset,
	withTuned,
} from '$core/methods/registry';
import type { Note } from '$core/contract/note';
import type { Held, ProposalQuestion } from '../../../browser-worker/asking';
import type { Proposal } from '$core/questions/propose';
import type { ValidRequest } from '$core/questions/request';
import { USUAL_ORIGINS } from '$core/questions/trial';
import { USUAL_HORIZON } from '$core/series/frequency';
import { applyLayers, type Layered, type Layers, NO_LAYERS } from '$core/series/layers';
import { seasonAt } from '$core/series/series';
import { distinctNames } from '$core/methods/names';
import { keyed } from '$core/numbers/keyed';
import { type Scale, scaleWords, usualScale, writtenDecimals, WHOLE } from '$core/numbers/figure';
import { workedSeries, workingTable } from '$core/questions/working-table';
import { inMark } from '../../../reader.svelte';
import { askArithmetic, proposeArithmetic } from '../../../browser-worker/arithmetic';
import { NEWEST_RULE } from '$core/ranges/contract';
import { neverBelow, shownRange } from '$core/ranges/shown';
import { Latest } from '../../../browser-worker/latest';
import { entryWords } from '$core/words/layers';
import type { AdoptedForecast } from '../../../wire/records';
import type { Item, ItemChange } from '../../../wire/items';
import type { ItemGrades } from '../../../wire/status';
import type { ItemParts } from '../../../wire/groups';
import type { RecordedEntry } from '$core/series/layer-entries';
import { call as callServer, CallError } from '../../base/call';
import { HandedOver } from './handed-over.svelte';
import { History } from './history';
import { ItemSaver, type Work, workOf } from './item-saver';
import { adoptsInThisVisit, NotAdopted, rememberAdopting } from './adopts-once';
import { proposedLineUp } from './proposed-line-up';
import { SaveQueue, type Saving } from './save-queue';
import { forgetUnsaved, keepUnsaved, takeUnsaved } from './unsaved';

/** Constants that a search leaves as they are, and bounds other than usual. */
export interface SearchLimits {
	readonly hold: readonly string[];
	readonly bounds: Readonly<Record<string, readonly [number, number]>>;
}

const NO_LIMITS: SearchLimits = { hold: [], bounds: {} };

/** One item on the bench: its line-up, the newest answer, what is chosen, undo, and saving it all. */
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

	#history: History<Work>;
	#snapshot: Work = $state.raw({ candidates: [], hidden: [], layers: NO_LAYERS });
	#canUndo = $state(false);
	#canRedo = $state(false);
	readonly #call: typeof callServer;
	#saver: ItemSaver;
	#queue: SaveQueue<Work>;
	#latest: Latest<ValidRequest, Evaluation>;

	/** Newest answer and the request that it belongs to; one object, so that they are always in step. */
	shown: { request: ValidRequest; answer: Evaluation } | null = $state.raw(null);
	problem: string | null = $state(null);
	saving: Saving = $state.raw({ state: 'saved' });
	/** Whether anything of it was saved since it was opened; what is only proposed is not. */
	wasSaved = $state(false);
	/** What somebody else saved since this was opened, in words; empty where nothing was, or it was seen. */
	between: readonly string[] = $state.raw([]);
	/** Whether work was shown again that this browser could not save the last time. */
	tookUp = $state(false);
	chosenId = $state('');
	criterion: Criterion = $state('mse');
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
	/** What a search of a candidate leaves alone, and how far it may go; by id. */
	searching: Readonly<Record<string, SearchLimits>> = $state.raw({});
	horizon = $state(12);
	level = $state(0.95);
	/** How many of the next periods are looked at as one sum, and the chance with which stock is to last for them. */
	togetherSteps = $state(3);
	service = $state(0.95);
	adopted: AdoptedForecast | null = $state.raw(null);
	/** Of a sum: what is handed over for its items, added up, by period. */
	itsItems: ItemParts['ahead'] = $state.raw([]);
	adoptedCount = $state(0);
	/** What is put in place of computed figures before they are handed over. */
	readonly handed: HandedOver;
	/** What was said and what came, period by period; null until somebody looks. */
	graded: ItemGrades | null = $state.raw(null);
	/** A record that is laid on the strip, over what came. */
	laid: AdoptedForecast | null = $state.raw(null);
	/** The newest entries of the layers on record, and the newest one's id. */
	layerHistory: readonly RecordedEntry[] = $state.raw([]);
	/** What was proposed last; null before anybody asked. */
	proposed: Proposal | null = $state.raw(null);
	/** Whether a proposal is being calculated. */
	proposing = $state(false);
	readonly #propose: typeof proposeArithmetic;
	/** The proposal that was asked for last, perhaps still on its way. */
	#asked: { key: string; answer: Promise<Proposal | null> } | null = null;
	/** Who was chosen before, the latest last: undo goes back to them. */
	#chosenBefore: string[] = [];

	/** @param ends the arithmetic and the server */
	constructor(
		item: Item,
		chosenId: string | null,
		ends = { ask: askArithmetic, call: callServer, propose: proposeArithmetic },
	) {
		this.#call = ends.call;
		this.#propose = ends.propose;
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
		this.#history = new History<Work>(workOf(item));
		this.#snapshot = this.#history.now;
		this.layerHistory = item.layers.history;
		this.#saver = new ItemSaver(
			item,
			() => this.item.code,
			ends.call,
			(history) => (this.layerHistory = history),
		);
		this.#queue = new SaveQueue<Work>({
			send: (work, leaving) => this.#saver.send(work, leaving),
			show: (saving) => this.#showSaving(saving),
		});
		this.adopted = item.adopted;
		this.adoptedCount = item.adoptedCount;
		this.handed = new HandedOver(item.adopted, this.origin);
		this.proposing = item.lineUp.version === 0 && item.lineUp.candidates.length === 0;
		// No further than a third of what is known: beyond it ranges rest on next to nothing.
		const third = Math.max(1, Math.floor(item.series.values.length / 3));
		const usual = USUAL_HORIZON[item.series.frequency];
		// With a season that its group lends it sees further than its own figures reach.
		this.horizon = item.group ? usual : Math.min(usual, third);
		this.searching = Object.fromEntries(
			item.lineUp.candidates.flatMap((candidate) => {
				const { optimise } = tunedSettings(candidate);
				return optimise?.hold || optimise?.bounds
					? [[candidate.id, { hold: Object.keys(optimise.hold ?? {}), bounds: optimise.bounds ?? {} }]]
					: [];
			}),
		);
		this.chosenId = this.candidates.find(({ id }) => id === chosenId)?.id ?? this.#firstChoice();
		this.#latest = new Latest(
			async (request) => {
				const { evaluation, took } = await ends.ask(request);
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

	// Each the same object for as long as only the others change.
	readonly candidates: readonly Candidate[] = $derived(this.#snapshot.candidates);
	readonly hidden: readonly string[] = $derived(this.#snapshot.hidden);
	/** Parts of a mix that are not drawn by themselves: they stand behind it, and are not compared. */
	readonly folded: readonly string[] = $derived.by(() => {
		const parts = this.candidates.flatMap((each) => (each.method === 'combination' ? (each.of ?? []) : []));
		return this.hidden.filter((id) => parts.includes(id));
	});
	/** The candidates that have a row of their own. */
	readonly rows: readonly Candidate[] = $derived(
		this.candidates.filter(({ id }) => !this.folded.includes(id)),
	);
	/** What is laid over the actuals. */
	readonly layers: Layers = $derived(this.#snapshot.layers);

	/** The item's series with its layers laid over it. */
	readonly series = $derived.by((): Layered => {
		const { series } = this.item;
		return applyLayers(series, series.frequency, series.seasonLength, this.layers, this.item.group);
	});

	/** Season of the first period, 1 … P. */
	readonly firstSeason = $derived.by(() => {
		const { frequency, first, seasonLength } = this.series;
		return seasonAt({ values: new Float64Array(0), frequency, first, seasonLength }, 1);
	});

	/** Ordinal of the last period known. */
	/** Whether its demand never was below zero. */
	readonly neverBelow = $derived.by(() => neverBelow(this.series.worked));

	/** A range of the item as it is shown. */
	rangeShown(range: readonly [number, number] | null | undefined): readonly [number, number] | null {
		return shownRange(range, this.neverBelow);
	}

	/** How ends of the chosen candidate's ranges are written: those of counts are whole pieces. */
	readonly rangeScale = $derived.by(() =>
		this.resultFor(this.chosenId)?.rangeKind === 'counts' ? WHOLE : this.scale,
	);

	get origin(): number {
		return this.series.first + this.series.values.length - 1;
	}

	/** What is handed over of the chosen candidate, a figure a step. */
	readonly finals: readonly (number | null)[] = $derived.by(() =>
		(this.resultFor(this.chosenId)?.ahead ?? []).map(({ step, mean }) =>
			this.handed.finalOf(this.origin + step, mean),
		),
	);

	get canUndo(): boolean {
		return this.#canUndo;
	}

	get canRedo(): boolean {
		return this.#canRedo;
	}

	get chosen(): Candidate | undefined {
		return this.candidates.find(({ id }) => id === this.chosenId);
	}

	/** A name for each candidate that no other one has. */
	readonly names = $derived.by(() =>
		distinctNames(this.candidates, (id) => this.resultFor(id)?.constants, inMark),
	);

	// The same for as long as the same series was asked about.
	readonly #askedSeries = $derived(this.shown?.request.series);
	readonly #workedSeries = $derived(
		this.#askedSeries && workedSeries({ series: this.#askedSeries, gaps: this.shown!.request.gaps }),
	);
	/** The arithmetic of the chosen candidate, built when a view of the bench first asks for it. */
	readonly working = $derived.by(() => {
		const result = this.resultFor(this.chosenId);
		return result && this.shown ? workingTable(this.shown.request, result, this.#workedSeries) : null;
	});

	/** The newest answer for a candidate; it may be a dial's breadth behind the line-up. */
	answerFor(id: string): Evaluated | CandidateRefusal | undefined {
		return this.shown?.answer.candidates.find((answer) => answer.id === id);
	}

	/** The newest answer for a candidate that ran. */
	resultFor(id: string): Evaluated | undefined {
		const answer = this.answerFor(id);
		return answer?.ok ? answer : undefined;
	}

	/** What is to be said of a candidate. */
	notesOf(id: string): readonly Note[] {
		const lead = this.shown?.answer.leads[this.reading];
		const notes = this.answerFor(id)?.notes ?? [];
		return lead?.id === id ? [...notes, lead.note] : notes;
	}

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
		const all = this.candidates.map(({ id }) => this.measuresOf(id));
		return keyed(measuresIn('lineUp'), (id) => measureScale(id, all));
	});

	get request(): ValidRequest {
		return {
			series: this.series.request as ValidRequest['series'],
			gaps: this.series.gapRule,
			candidates: [...this.candidates],
			aside: [...this.folded],
			scoreFrom: this.scoreFrom,
			window: this.window,
			horizon: this.horizon,
			levels: levelsWith(this.level, [0.8]),
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

	/** The most periods that can be in the holdout: what is left can be fitted. */
	get mostHeld(): number {
		return Math.max(
			0,
			this.series.values.length -
				Math.max(4, Math.min(2 * this.series.seasonLength, this.series.values.length / 2)),
		);
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

	/** Shows each candidate over its own periods, which compares nothing. */
	judgeEachAlone(): void {
		this.window = 'own';
		this.reading = 'common';
		this.recompute();
	}

	/** Opens the item: with work that could not be saved, with its line-up, or with what is proposed where nobody worked on it yet. */
	async open(): Promise<void> {
		this.takeUpUnsaved();
		if (this.item.lineUp.version > 0 || this.candidates.length > 0) return this.recompute();
		const proposal = await this.askProposal();
		const lineUp = proposal && proposedLineUp(proposal, this.#freeIds());
		if (!lineUp || this.candidates.length > 0) return this.recompute();
		// It is what the item begins with, no step of anybody's.
		const { candidates, hidden, chosen } = lineUp;
		this.#history = new History<Work>({ ...this.#snapshot, candidates, hidden });
		this.#snapshot = this.#history.now;
		this.chosenId = chosen;
		this.recompute();
	}

	/** Begins on what `open` will ask for, before the page is drawn. */
	prepare(): void {
		if (this.proposing) void this.askProposal();
	}

	/** Has a forecast proposed for the series as it stands; null where that failed, which is said. */
	askProposal(): Promise<Proposal | null> {
		const { series, gaps } = this.request;
		const request = { series, gaps, horizon: this.horizon, levels: [0.8, 0.95], criterion: this.criterion };
		const key = JSON.stringify(request);
		if (this.#asked?.key !== key) this.#asked = { key, answer: this.#makeProposal(request) };
		return this.#asked.answer;
	}

	async #makeProposal(request: Held & ProposalQuestion): Promise<Proposal | null> {
		this.proposing = true;
		try {
			return (this.proposed = await this.#propose(request));
		} catch (error) {
			this.problem = error instanceof Error ? error.message : String(error);
			this.#asked = null;
			return null;
		} finally {
			this.proposing = false;
		}
	}

	/** Lets what is proposed join the line-up: the mix, the one method beside it, the yardstick. */
	takeProposal(proposal: Proposal): void {
		const naive = this.candidates.find(({ method }) => method === 'naive');
		const lineUp = proposedLineUp(proposal, this.#freeIds(), naive);
		if (!lineUp) return;
		const joining = lineUp.candidates.filter((each) => each !== naive);
		this.#go({
			candidates: this.#withJoined(joining.filter(({ id }) => !lineUp.hidden.includes(id))).concat(
				joining.filter(({ id }) => lineUp.hidden.includes(id)),
			),
			hidden: [...this.hidden, ...lineUp.hidden],
		});
		this.choose(lineUp.chosen);
	}

	/** The line-up with others after the rows that are shown. */
	#withJoined(joining: readonly Candidate[]): Candidate[] {
		return [...this.rows, ...joining, ...this.candidates.filter(({ id }) => this.folded.includes(id))];
	}

	/** Asks for the figures of the line-up as it stands. */
	recompute(): void {
		this.#latest.put(this.request);
	}

	choose(id: string): void {
		this.#chosenBefore = [...this.#chosenBefore.filter((other) => other !== this.chosenId), this.chosenId];
		this.chosenId = id;
	}

	/** Puts a candidate in the place of the one with its id; with a stroke while a dial is being turned. */
	put(changed: Candidate, stroke: string | null = null): void {
		const candidates = this.candidates.map((candidate) =>
			candidate.id === changed.id ? changed : candidate,
		);
		// What changes nothing is no step to be undone.
		if (JSON.stringify(candidates) !== JSON.stringify(this.candidates)) this.#go({ candidates }, stroke);
	}

	/** Changes settings of a candidate; what is undefined is taken away. */
	set<C extends Candidate>(candidate: C, change: Partial<C>, stroke: string | null = null): void {
		this.put(withoutUnset({ ...candidate, ...change }), stroke);
	}

	/** Ends a stroke: what comes next is an undo step of its own. */
	lift(): void {
		this.#history.lift();
	}

	add(settings: Settings): void {
		const candidate = { ...settings, id: this.#freeId() };
		this.#go({ candidates: this.#withJoined([candidate]) });
		this.choose(candidate.id);
	}

	copy(id: string): void {
		const at = this.candidates.findIndex((candidate) => candidate.id === id);
		const twin = { ...this.candidates[at]!, id: this.#freeId() };
		this.limit(twin.id, this.limitsOf(id));
		this.#go({ candidates: this.candidates.toSpliced(at + 1, 0, twin) });
		this.choose(twin.id);
	}

	remove(id: string): void {
		const at = this.rows.findIndex((candidate) => candidate.id === id);
		const candidates = withoutLeftOver(withoutMember(this.candidates, id), this.folded);
		const kept = this.hidden.filter((other) => candidates.some((candidate) => candidate.id === other));
		this.#go({ candidates, hidden: kept });
		if (this.chosenId === id) this.choose(this.rows[Math.min(at, this.rows.length - 1)]?.id ?? '');
	}

	toggleHidden(id: string): void {
		const hidden = this.hidden.includes(id)
			? this.hidden.filter((other) => other !== id)
			: [...this.hidden, id];
		this.#go({ hidden });
	}

	/**
	 * What a dial shows: a searched constant as it was found, any other as it is set, which may be ahead of the
	 * newest answer while the dial is being turned.
	 */
	constantOf(candidate: Candidate, { key, fallback }: Constant): number {
		const { optimise, constants } = tunedSettings(candidate);
		const found = optimise ? this.resultFor(candidate.id)?.constants[key] : undefined;
		return found ?? constants?.[key] ?? fallback;
	}

	/** All constants of a candidate as its dials show them. */
	constantsOf(candidate: Candidate): Record<string, number> {
		return Object.fromEntries(
			constantsOfCandidate(candidate).map((constant) => [constant.key, this.constantOf(candidate, constant)]),
		);
	}

	/** Sets constants by hand: they are no longer what a search found. */
	turn(candidate: Candidate, change: Record<string, number>): void {
		const constants = { ...this.constantsOf(candidate), ...change };
		const stroke = `${candidate.id} ${Object.keys(change).join(' ')}`;
		this.put(withTuned(candidate, { constants, optimise: undefined }), stroke);
	}

	/** What a search of a candidate may move, and how far. */
	limitsOf(id: string): SearchLimits {
		return this.searching[id] ?? NO_LIMITS;
	}

	limit(id: string, change: Partial<SearchLimits>): void {
		this.searching = { ...this.searching, [id]: { ...this.limitsOf(id), ...change } };
	}

	/** The search of a candidate as its limits say, by the criterion chosen. */
	searchOf(candidate: Candidate): OptimiseInput {
		const { hold, bounds } = this.limitsOf(candidate.id);
		const now = this.constantsOf(candidate);
		const held = Object.fromEntries(hold.filter((key) => key in now).map((key) => [key, now[key]!]));
		return {
			criterion: this.criterion,
			...(Object.keys(held).length > 0 && { hold: held }),
			...(Object.keys(bounds).length > 0 && { bounds }),
		};
	}

	/** Has the constants of some candidates searched; those without any stay as they are. */
	findBest(ids: readonly string[]): void {
		const candidates = this.candidates.map((candidate) =>
			ids.includes(candidate.id) && constantsOfCandidate(candidate).length > 0
				? withTuned(candidate, { optimise: this.searchOf(candidate) })
				: candidate,
		);
		this.#go({ candidates });
	}

	/** Lays something else over the actuals. */
	layOver(change: Partial<Layers>): void {
		this.#go({ layers: { ...this.layers, ...change } });
	}

	undo(): void {
		if (this.#history.undo()) this.#settle();
	}

	redo(): void {
		if (this.#history.redo()) this.#settle();
	}

	/** Takes up work that this browser could not save the last time, one undo away from what the server has. */
	takeUpUnsaved(): void {
		const unsaved = takeUnsaved(this.item.code);
		if (!unsaved) return;
		const { work } = unsaved;
		if (JSON.stringify(work) === JSON.stringify(workOf(this.item))) return forgetUnsaved(this.item.code);
		this.tookUp = true;
		this.#saver.goOnFrom(unsaved);
		this.#history.push(work);
		this.#settle();
	}

	/** Whether leaving would lose something that is not with the server, nor on its way. */
	get isUnsaved(): boolean {
		return !this.#queue.isSaved;
	}

	/** Takes what somebody else saved in place of this work, which stays one undo away. */
	async takeTheirs(): Promise<void> {
		const { theirs } = await this.#catchUp();
		this.#history.push(theirs);
		this.#refresh();
		this.#queue.resume(null);
	}

	/** Lays this work over what somebody else saved, and saves both. */
	async putMineOnTop(): Promise<void> {
		const { merged } = await this.#catchUp();
		this.#history.push(merged);
		this.#refresh();
		this.#queue.resume(this.#snapshot);
	}

	async #catchUp() {
		const item = await this.#call('GET /items/[code]', { code: this.item.code });
		this.item = item;
		this.adopted = item.adopted;
		this.adoptedCount = item.adoptedCount;
		this.between = [];
		return this.#saver.catchUp(item, this.#snapshot);
	}

	/** Asked before the first adoption of a visit; null where nobody is asked. */
	asksToAdopt: { go: (sure: boolean) => void } | null = $state.raw(null);

	/** Whether to adopt for good: asked once a visit. */
	async #sureToAdopt(): Promise<boolean> {
		if (adoptsInThisVisit()) return true;
		const sure = await new Promise<boolean>((go) => (this.asksToAdopt = { go }));
		this.asksToAdopt = null;
		if (sure) rememberAdopting();
		return sure;
	}

	/** Makes the chosen candidate the item's forecast, as it is shown. @throws NotAdopted where its user thought better of it */
	async adopt(reason: string): Promise<void> {
		if (this.holdout > 0)
			throw new Error(
				'There is a holdout, so constants come from the other periods alone. Set it to 0, check the figures, then adopt.',
			);
		// What is adopted is made from what is saved, and is what is shown; a line-up that was proposed is saved with it.
		if (this.item.lineUp.version === 0) this.#queue.put(this.#snapshot);
		await Promise.all([this.#queue.flush(), this.#latest.settled()]);
		if (!this.#queue.isSaved)
			throw new Error('Nothing is adopted before this is saved; the reason is shown beside the line-up.');
		const { shown, chosen, origin, horizon } = this;
		const unexplained = this.handed.unexplained(origin + 1, origin + horizon).length;
		if (unexplained > 0)
			throw new Error(
				`${unexplained === 1 ? 'One figure is' : `${unexplained} figures are`} changed by hand without a reason. Say why, or undo the change.`,
			);
		const result = this.resultFor(this.chosenId);
		if (!shown || !chosen || !result || !sameRequest(shown.request, this.request))
			throw new Error('There are no figures of this candidate yet. Look at them first, then adopt.');
		if (!(await this.#sureToAdopt())) throw new NotAdopted();
		try {
			this.adopted = await this.#call(
				'POST /items/[code]/adopted',
				{ code: this.item.code },
				{
					candidate: chosen,
					others: madeFrom(chosen, this.candidates),
					scoreFrom: this.scoreFrom,
					horizon,
					// The levels that are shown.
					levels: levelsWith(this.level, [0.8]),
					service: this.service,
					...this.handed.request(origin, horizon),
					reason,
					seen: this.item.seen,
					seenLayers: this.#saver.seenLayers,
					seenRecord: this.adopted?.id ?? null,
					shown: result.ahead.map(({ mean, ranges }, i) => ({ mean, ranges, final: this.finals[i] ?? null })),
				},
			);
		} catch (error) {
			this.#sayOvertaken(error);
			throw error;
		}
		this.adoptedCount++;
		// Whoever goes on to the next item does not wait for how this one stands now.
		void this.refreshStatus().catch(() => undefined);
	}

	/** Whether something came in since the newest record was adopted, so that it can be updated. */
	get canUpdate(): boolean {
		const { adopted, item } = this;
		return adopted !== null && (adopted.saw !== item.seen || adopted.sawLayers !== this.#saver.seenLayers);
	}

	/** Adopts the newest record again on newer actuals. */
	async updateAdopted(reason = ''): Promise<void> {
		await this.#queue.flush();
		const { code, seen } = this.item;
		try {
			this.adopted = await this.#call(
				'POST /items/[code]/updated',
				{ code },
				{ seen, seenLayers: this.#saver.seenLayers, reason },
			);
		} catch (error) {
			this.#sayOvertaken(error);
			throw error;
		}
		this.adoptedCount++;
		// Whoever goes on to the next item does not wait for how this one stands now.
		void this.refreshStatus().catch(() => undefined);
	}

	/** Hides the item until its next actual, or shows it again. */
	async hide(hidden: boolean, words = ''): Promise<void> {
		const { code, seen } = this.item;
		await this.#call('POST /items/[code]/hidden', { code }, { hidden, words, seen });
		await this.refreshStatus();
	}

	/** Looks up how what was adopted compares with what came. */
	async loadGrades(): Promise<void> {
		this.graded = await this.#call('GET /items/[code]/grades', { code: this.item.code });
	}

	/** How the item stands now; what it looks like otherwise stays as it was opened. */
	async refreshStatus(): Promise<void> {
		const { status } = await this.#call('GET /items/[code]', { code: this.item.code });
		this.item = { ...this.item, status };
	}

	#sayOvertaken(error: unknown): void {
		if (error instanceof CallError && error.status === 409) this.between = error.body?.between ?? [];
	}

	/** Renames or labels the item, retires it, or brings it back. */
	async change(change: Omit<ItemChange, 'seen' | 'reason'> & { reason?: string }): Promise<void> {
		await this.#queue.flush();
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

	/** Sends what is not saved yet at once, and has the browser keep it in case that is in vain; for when the page is left. */
	leave(): void {
		if (this.#queue.isSaved) return;
		keepUnsaved(this.item.code, this.#saver.unsaved(this.#snapshot));
		void this.#queue.flush(true);
	}

	#go(change: Partial<Work>, stroke: string | null = null): void {
		this.#history.push({ ...this.#snapshot, ...change }, stroke);
		this.#settle();
	}

	/** After every change: show it, compute it, save it. */
	#settle(): void {
		this.#refresh();
		this.#queue.put(this.#snapshot);
	}

	#showSaving(saving: Saving): void {
		this.saving = saving;
		const { code } = this.item;
		if (saving.state === 'saved') {
			this.wasSaved = true;
			forgetUnsaved(code);
			this.tookUp = false;
		}
		if (saving.state === 'waiting' || saving.state === 'conflict')
			keepUnsaved(code, this.#saver.unsaved(this.#snapshot));
		if (saving.state === 'conflict') {
			const { seenLayers } = this.#saver;
			void this.#call('GET /items/[code]', { code: this.item.code })
				.then((item) => this.#sayBetween(item, seenLayers))
				.catch(() => undefined);
		}
	}

	/** Says what somebody else saved: entries of the layers by their words, and that the line-up is another one. */
	#sayBetween(item: Item, seenLayers: number): void {
		const { frequency } = item.series;
		const entries = item.layers.history
			.filter(({ id }) => id > seenLayers)
			.map((entry) => `${entry.by}: ${entryWords(entry, frequency, this.actualDecimals)}`);
		const other = JSON.stringify(item.lineUp.candidates) !== JSON.stringify(this.#snapshot.candidates);
		this.between = [...entries, ...(other ? ['the line-up is another one'] : [])];
	}

	#refresh(): void {
		this.#snapshot = this.#history.now;
		this.#canUndo = this.#history.canUndo;
		this.#canRedo = this.#history.canRedo;
		const there = (id: string) => this.candidates.some((candidate) => candidate.id === id);
		if (!there(this.chosenId)) this.choose(this.#chosenBefore.findLast(there) ?? this.#firstChoice());
		this.recompute();
	}

	#firstChoice(): string {
		const same = this.candidates.find(({ method }) => method === this.item.adopted?.candidate.method);
		return (same ?? this.rows.at(-1))?.id ?? '';
	}

	#freeId(): string {
		return this.#freeIds()();
	}

	/** Ids that no candidate has, each another one. */
	#freeIds(): () => string {
		let i = 0;
		return () => {
			do i++;
			while (this.candidates.some(({ id }) => id === `c${i}`));
			return `c${i}`;
		};
	}
}

/** Whether an answer is to what would be asked now; a trial asked beside it, or not any more, changes none of its figures. */
const sameRequest = (a: ValidRequest, b: ValidRequest) =>
	JSON.stringify({ ...a, trial: null }) === JSON.stringify({ ...b, trial: null });

/** The usual levels and the one that was asked for, in order. */
const levelsWith = (level: number, usual: readonly number[]): number[] =>
	(usual.includes(level) ? [...usual] : [...usual, level]).sort((a, b) => a - b);

/** A line-up without parts that stood behind a mix which is no longer there. */
function withoutLeftOver(candidates: Candidate[], folded: readonly string[]): Candidate[] {
	const used = candidates.flatMap((each) => (each.method === 'combination' ? (each.of ?? []) : []));
	return candidates.filter(({ id }) => !folded.includes(id) || used.includes(id));
}

/** A line-up without one of its candidates: combinations go on without it, and end with their last one. */
function withoutMember(candidates: readonly Candidate[], id: string): Candidate[] {
	let left = candidates.filter((candidate) => candidate.id !== id);
	for (const combined of left) {
		if (combined.method !== 'combination' || !combined.of?.includes(id)) continue;
		const { of, weights } = combined;
		const rest = of.filter((member) => member !== id);
		const own = Array.isArray(weights) ? weights.filter((_, i) => of[i] !== id) : weights;
		const some = !Array.isArray(own) || own.some((weight) => weight > 0);
		const without: Candidate = { ...combined, of: rest, weights: some ? own : 'equal' };
		left =
			rest.length === 0
				? withoutMember(left, combined.id)
				: left.map((other) => (other === combined ? without : other));
	}
	return left;
}
