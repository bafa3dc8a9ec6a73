import type { Answer, CandidateAnswer, CandidateResult } from '$core/answer';
import type { CandidateInput, Constant, OptimiseInput } from '$core/methods/method';
import type { Criterion } from '$core/search/criteria';
import {
	constantsOfCandidate,
	madeFrom,
	methodOf,
	tunedSettings,
	withoutUnset,
	withTuned,
} from '$core/methods/registry';
import { type EvaluateRequest, parseRequest } from '$core/request';
import { applyLayers, type Layered, type Layers, NO_LAYERS } from '$core/series/layers';
import { seasonAt } from '$core/series/series';
import { distinctNames } from '$core/methods/names';
import { decimalsFor, writtenDecimals } from '$core/working/decimals';
import { workingTable } from '$core/working/table';
import { arithmetic } from '../workers/arithmetic';
import { Latest } from '../workers/latest';
import type { AdoptedForecast, Item, ItemLayers, RecordedMend } from '../shapes';
import { call, CallError } from './call';
import { History } from './history';
import { layerChanges } from '../layer-entries';

/** What undo goes back to. */
interface Snapshot {
	candidates: readonly CandidateInput[];
	hidden: readonly string[];
	layers: Layers;
}

/** Constants that a search leaves as they are, and bounds other than usual. */
export interface SearchLimits {
	readonly hold: readonly string[];
	readonly bounds: Readonly<Record<string, readonly [number, number]>>;
}

const NO_LIMITS: SearchLimits = { hold: [], bounds: {} };

/** Where the line-up stands with the server. */
export type Keeping =
	| { state: 'kept' }
	| { state: 'keeping' }
	| { state: 'waiting'; message: string }
	| { state: 'conflict'; message: string }
	| { state: 'refused'; message: string };

const KEEP_AFTER = 400;
const TRY_AGAIN_AFTER = 3000;
/** Periods ahead that a new look begins with. */
const USUAL_HORIZON = { hour: 24, day: 14, weekday: 10, week: 13, month: 12, quarter: 4, year: 3, step: 12 };

/** One item on the bench: its line-up, the newest answer, what is chosen, undo, and keeping it all. */
export class ItemState {
	readonly item: Item;
	/** Decimals of computed figures, and of actuals as they were brought in. */
	readonly decimals: number;
	readonly actualDecimals: number;
	readonly unit: string;

	#history: History<Snapshot>;
	#snapshot: Snapshot = $state.raw({ candidates: [], hidden: [], layers: NO_LAYERS });
	#canUndo = $state(false);
	#canRedo = $state(false);
	#version: number;
	/** What the server has. */
	#kept: Snapshot;
	#timer: ReturnType<typeof setTimeout> | undefined;
	#sending: Promise<void> | null = null;
	#latest: Latest<EvaluateRequest, Answer>;

	/** Newest answer and the request that it belongs to; one object, so that they are always in step. */
	shown: { request: EvaluateRequest; answer: Answer } | null = $state.raw(null);
	problem: string | null = $state(null);
	keeping: Keeping = $state.raw({ state: 'kept' });
	chosenId = $state('');
	criterion: Criterion = $state('mse');
	/** 1-based first period that every candidate is scored from; null: each from its own. */
	scoreFrom: number | null = $state(null);
	/** What a search of a candidate leaves alone, and how far it may go; by id. */
	searching: Readonly<Record<string, SearchLimits>> = $state.raw({});
	horizon = $state(12);
	level = $state(0.95);
	adopted: AdoptedForecast | null = $state.raw(null);
	adoptedCount = $state(0);
	/** The newest entries of the layers on record, and the newest one's id. */
	mends: readonly RecordedMend[] = $state.raw([]);
	#newestMend: number;
	/** Who was chosen before, the latest last: undo goes back to them. */
	#chosenBefore: string[] = [];

	constructor(item: Item, chosenId: string | null) {
		this.item = item;
		this.unit = item.unit;
		this.decimals = decimalsFor(item.series.values);
		this.actualDecimals = writtenDecimals(item.series.values);
		this.#version = item.lineUp.version;
		this.#history = new History<Snapshot>({
			candidates: item.lineUp.candidates,
			hidden: item.lineUp.hidden,
			layers: item.layers.layers,
		});
		this.#snapshot = this.#history.now;
		this.#kept = this.#snapshot;
		this.mends = item.layers.history;
		this.#newestMend = item.layers.newest;
		this.adopted = item.adopted;
		this.adoptedCount = item.adoptedCount;
		this.horizon = Math.min(USUAL_HORIZON[item.series.frequency], Math.max(3, item.series.values.length));
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
				const { answer, took } = await arithmetic().evaluateTimed(request);
				performance.mark('evaluated', { detail: took });
				return answer;
			},
			(answer, request) => {
				this.shown = { request, answer };
				this.problem = null;
			},
			(error) => (this.problem = error instanceof Error ? error.message : String(error)),
		);
	}

	get candidates(): readonly CandidateInput[] {
		return this.#snapshot.candidates;
	}

	get hidden(): readonly string[] {
		return this.#snapshot.hidden;
	}

	get layers(): Layers {
		return this.#snapshot.layers;
	}

	/** The item's series with its layers laid over it. */
	readonly series = $derived.by((): Layered => {
		const { series } = this.item;
		return applyLayers(series, series.frequency, series.seasonLength, this.#snapshot.layers);
	});

	/** Season of the first period, 1 … P. */
	readonly firstSeason = $derived.by(() => {
		const { frequency, first, seasonLength } = this.series;
		return seasonAt({ values: new Float64Array(0), frequency, first, seasonLength }, 1);
	});

	get canUndo(): boolean {
		return this.#canUndo;
	}

	get canRedo(): boolean {
		return this.#canRedo;
	}

	get chosen(): CandidateInput | undefined {
		return this.candidates.find(({ id }) => id === this.chosenId);
	}

	/** A name for each candidate that no other one has. */
	readonly names = $derived.by(() => distinctNames(this.candidates, (id) => this.resultFor(id)?.constants));

	/** The arithmetic of the chosen candidate, built when a view of the bench first asks for it. */
	readonly working = $derived.by(() => {
		const result = this.resultFor(this.chosenId);
		return result && this.shown ? workingTable(parseRequest(this.shown.request), result) : null;
	});

	/** The newest answer for a candidate; it may be a dial's breadth behind the line-up. */
	answerFor(id: string): CandidateAnswer | undefined {
		return this.shown?.answer.candidates.find((answer) => answer.id === id);
	}

	/** The newest answer for a candidate that ran. */
	resultFor(id: string): CandidateResult | undefined {
		const answer = this.answerFor(id);
		return answer?.ok ? answer : undefined;
	}

	get request(): EvaluateRequest {
		return {
			series: this.series.request as EvaluateRequest['series'],
			gaps: this.series.gapRule,
			candidates: [...this.candidates],
			scoreFrom: this.scoreFrom,
			horizon: this.horizon,
			levels: levelsWith(this.level, [0.8]),
		};
	}

	/** Scores every candidate from this period on (1-based); null: each from its own first. */
	compareFrom(first: number | null): void {
		this.scoreFrom = first;
		this.recompute();
	}

	/** Asks for the figures of the line-up as it stands. */
	recompute(): void {
		this.#latest.put($state.snapshot(this.request) as EvaluateRequest);
	}

	choose(id: string): void {
		this.#chosenBefore = [...this.#chosenBefore.filter((other) => other !== this.chosenId), this.chosenId];
		this.chosenId = id;
	}

	/** Puts changed settings in place of a candidate's; with a stroke while a dial is being turned. */
	set(id: string, change: Partial<CandidateInput>, stroke: string | null = null): void {
		const candidates = this.candidates.map((candidate) =>
			candidate.id === id ? withoutUnset({ ...candidate, ...change, id }) : candidate,
		);
		// What changes nothing is no step to be undone.
		if (JSON.stringify(candidates) !== JSON.stringify(this.candidates)) this.#go({ candidates }, stroke);
	}

	/** Ends a stroke: what comes next is an undo step of its own. */
	lift(): void {
		this.#history.lift();
	}

	add(settings: Omit<CandidateInput, 'id'>): void {
		const candidate = { ...settings, id: this.#freeId() } as CandidateInput;
		this.#go({ candidates: [...this.candidates, candidate] });
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
		const at = this.candidates.findIndex((candidate) => candidate.id === id);
		const candidates = withoutMember(this.candidates, id);
		const kept = this.hidden.filter((other) => candidates.some((candidate) => candidate.id === other));
		this.#go({ candidates, hidden: kept });
		if (this.chosenId === id) this.choose(candidates[Math.min(at, candidates.length - 1)]?.id ?? '');
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
	constantOf(candidate: CandidateInput, { key, fallback }: Constant): number {
		const { optimise, constants } = tunedSettings(candidate);
		const found = optimise ? this.resultFor(candidate.id)?.constants[key] : undefined;
		return found ?? constants?.[key] ?? fallback;
	}

	/** All constants of a candidate as its dials show them. */
	constantsOf(candidate: CandidateInput): Record<string, number> {
		return Object.fromEntries(
			constantsOfCandidate(candidate).map((constant) => [constant.key, this.constantOf(candidate, constant)]),
		);
	}

	/** Sets constants by hand: they are no longer what a search found. */
	turn(candidate: CandidateInput, change: Record<string, number>): void {
		this.set(
			candidate.id,
			withTunedChange(candidate, {
				constants: { ...this.constantsOf(candidate), ...change },
				optimise: undefined,
			}),
			`${candidate.id} ${Object.keys(change).join(' ')}`,
		);
	}

	/** What a search of a candidate may move, and how far. */
	limitsOf(id: string): SearchLimits {
		return this.searching[id] ?? NO_LIMITS;
	}

	limit(id: string, change: Partial<SearchLimits>): void {
		this.searching = { ...this.searching, [id]: { ...this.limitsOf(id), ...change } };
	}

	/** The search of a candidate as its limits say, by the criterion chosen. */
	searchOf(candidate: CandidateInput): OptimiseInput {
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
	mend(change: Partial<Layers>): void {
		this.#go({ layers: { ...this.layers, ...change } });
	}

	undo(): void {
		if (this.#history.undo()) this.#settle();
	}

	redo(): void {
		if (this.#history.redo()) this.#settle();
	}

	/** Takes the line-up that is kept on the server in place of this one, which stays one undo away. */
	async takeTheirs(): Promise<void> {
		const { lineUp } = await call<Item>('GET', this.#address());
		this.#version = lineUp.version;
		this.#history.push({ ...this.#snapshot, candidates: lineUp.candidates, hidden: lineUp.hidden });
		this.#kept = { ...this.#history.now, layers: this.#kept.layers };
		this.#refresh();
		this.keeping = { state: 'kept' };
	}

	/** Keeps this line-up in place of the one on the server. */
	async keepMine(): Promise<void> {
		const { lineUp } = await call<Item>('GET', this.#address());
		this.#version = lineUp.version;
		this.#kept = { ...this.#kept, candidates: lineUp.candidates, hidden: lineUp.hidden };
		await this.#keep();
	}

	async adopt(reason: string): Promise<void> {
		// What is adopted is computed from the layers that are kept.
		if (this.keeping.state === 'keeping') await this.#keep();
		this.adopted = await call<AdoptedForecast>('POST', `${this.#address()}/adopted`, {
			candidate: $state.snapshot(this.chosen),
			others: this.chosen ? $state.snapshot(madeFrom(this.chosen, this.candidates)) : [],
			scoreFrom: this.scoreFrom,
			horizon: this.horizon,
			levels: levelsWith(this.level, [0.8, 0.95]),
			reason,
			seen: this.item.seen,
			seenLayers: this.#newestMend,
		});
		this.adoptedCount++;
	}

	/** Sends what is not kept yet at once; for when the page is left. */
	flush(): void {
		if (this.keeping.state === 'keeping' && !this.#sending) void this.#keep(true);
	}

	#go(change: Partial<Snapshot>, stroke: string | null = null): void {
		this.#history.push({ ...this.#snapshot, ...change }, stroke);
		this.#settle();
	}

	/** After every change: show it, compute it, keep it. */
	#settle(): void {
		this.#refresh();
		if (this.keeping.state !== 'conflict') {
			this.keeping = { state: 'keeping' };
			clearTimeout(this.#timer);
			this.#timer = setTimeout(() => void this.#keep(), KEEP_AFTER);
		}
	}

	#refresh(): void {
		this.#snapshot = this.#history.now;
		this.#canUndo = this.#history.canUndo;
		this.#canRedo = this.#history.canRedo;
		const there = (id: string) => this.candidates.some((candidate) => candidate.id === id);
		if (!there(this.chosenId)) this.choose(this.#chosenBefore.findLast(there) ?? this.#firstChoice());
		this.recompute();
	}

	async #keep(leaving = false): Promise<void> {
		clearTimeout(this.#timer);
		// One at a time: the next save must name the version that this one makes.
		if (this.#sending) await this.#sending;
		this.#sending = this.#send(leaving);
		await this.#sending;
		this.#sending = null;
	}

	async #send(leaving: boolean): Promise<void> {
		const sent = this.#snapshot;
		try {
			const entries = layerChanges(this.#kept.layers, sent.layers);
			if (entries.length > 0) {
				const { history, newest } = await call<ItemLayers>(
					'POST',
					`${this.#address()}/layers`,
					{ entries },
					leaving,
				);
				this.mends = history;
				this.#newestMend = newest;
				this.#kept = { ...this.#kept, layers: sent.layers };
			}
			if (this.#kept.candidates !== sent.candidates || this.#kept.hidden !== sent.hidden) {
				const { version } = await call<{ version: number }>(
					'PUT',
					`${this.#address()}/line-up`,
					{ version: this.#version, candidates: sent.candidates, hidden: sent.hidden },
					leaving,
				);
				this.#version = version;
				this.#kept = { ...sent, layers: this.#kept.layers };
			}
			if (this.#snapshot === sent) this.keeping = { state: 'kept' };
		} catch (error) {
			this.#notKept(error);
		}
	}

	#notKept(error: unknown): void {
		const message = error instanceof Error ? error.message : String(error);
		if (error instanceof CallError && error.status === 409) {
			this.keeping = { state: 'conflict', message };
		} else if (error instanceof CallError && error.status === 422) {
			this.keeping = { state: 'refused', message };
		} else {
			this.keeping = { state: 'waiting', message };
			this.#timer = setTimeout(() => void this.#keep(), TRY_AGAIN_AFTER);
		}
	}

	#address(): string {
		return `/api/v1/items/${encodeURIComponent(this.item.code)}`;
	}

	#firstChoice(): string {
		const same = this.candidates.find(({ method }) => method === this.item.adopted?.candidate.method);
		return (same ?? this.candidates.at(-1))?.id ?? '';
	}

	#freeId(): string {
		for (let i = 1; ; i++) if (!this.candidates.some(({ id }) => id === `c${i}`)) return `c${i}`;
	}
}

/** The usual levels and the one that was asked for, in order. */
const levelsWith = (level: number, usual: readonly number[]): number[] =>
	(usual.includes(level) ? [...usual] : [...usual, level]).sort((a, b) => a - b);

/** Constants, start or search of a candidate as a change of its settings; what is undefined is taken away. */
export function withTunedChange(
	candidate: CandidateInput,
	change: Parameters<typeof withTuned>[1],
): Partial<CandidateInput> {
	const { inner } = withTuned(candidate, change);
	return inner === undefined ? change : { inner };
}

/** A line-up without one of its candidates: combinations go on without it, and end with their last one. */
function withoutMember(candidates: readonly CandidateInput[], id: string): CandidateInput[] {
	let left = candidates.filter((candidate) => candidate.id !== id);
	for (const combined of left.filter((other) => methodOf(other.method).restsOn?.(other).includes(id))) {
		const of = combined.of as string[];
		const rest = of.filter((member) => member !== id);
		const { weights } = combined;
		const own = Array.isArray(weights) ? weights.filter((_, i) => of[i] !== id) : weights;
		const some = !Array.isArray(own) || own.some((weight) => weight > 0);
		left =
			rest.length === 0
				? withoutMember(left, combined.id)
				: left.map((other) =>
						other === combined ? { ...combined, of: rest, weights: some ? own : 'equal' } : other,
					);
	}
	return left;
}
