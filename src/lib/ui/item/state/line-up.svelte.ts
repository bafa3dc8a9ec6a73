import type { Constant, OptimiseInput } from '$core/contract/candidate';
import type { Criterion } from '$core/contract/criteria';
import {
	type Candidate,
	constantsOfCandidate,
	type Settings,
	tunedSettings,
	withoutUnset,
	withTuned,
} from '$core/methods/registry';
import { isSame } from '$core/numbers/same';
import type { Proposal } from '$core/questions/propose';
import type { Layers } from '$core/series/layers';
import type { Item } from '../../../wire/items';
import { History } from './history';
import { type Work, workOf } from './item-saver';
import { proposedLineUp } from './proposed-line-up';

/** Constants that a search leaves as they are, and bounds other than usual. */
export interface SearchLimits {
	readonly hold: readonly string[];
	readonly bounds: Readonly<Record<string, readonly [number, number]>>;
}

const NO_LIMITS: SearchLimits = { hold: [], bounds: {} };

/** The candidates of an item and the layers over its actuals: what is chosen, changed, undone. */
export class LineUpState {
	#history: History<Work>;
	/** As it stands: what is computed and saved. */
	work: Work = $state.raw({} as Work);
	#canUndo = $state(false);
	#canRedo = $state(false);
	chosenId = $state('');
	/** What a search minimises. */
	criterion: Criterion = $state('mse');
	/** What a search of a candidate leaves alone, and how far it may go; by id. */
	searching: Readonly<Record<string, SearchLimits>> = $state.raw({});
	/** Who was chosen before, the latest last: undo goes back to them. */
	#chosenBefore: string[] = [];

	/**
	 * @param adopted the method of the item's forecast, which is chosen first
	 * @param found constants of a candidate as a search found them
	 * @param changed is told after every change, and whether that is to be saved
	 */
	constructor(
		item: Item,
		chosenId: string | null,
		private readonly adopted: () => string | undefined,
		private readonly found: (id: string) => Readonly<Record<string, number>> | undefined,
		private readonly changed: (saves: boolean) => void,
	) {
		this.#history = new History<Work>(workOf(item));
		this.work = this.#history.now;
		this.searching = Object.fromEntries(
			item.lineUp.candidates.flatMap((candidate) => {
				const { optimise } = tunedSettings(candidate);
				return optimise?.hold || optimise?.bounds
					? [[candidate.id, { hold: Object.keys(optimise.hold ?? {}), bounds: optimise.bounds ?? {} }]]
					: [];
			}),
		);
		this.chosenId = this.candidates.find(({ id }) => id === chosenId)?.id ?? this.#firstChoice();
	}

	// Each the same object for as long as only the others change.
	readonly candidates: readonly Candidate[] = $derived(this.work.candidates);
	readonly hidden: readonly string[] = $derived(this.work.hidden);
	/** What is laid over the actuals. */
	readonly layers: Layers = $derived(this.work.layers);
	/** Parts of a combination that are not drawn by themselves: they stand behind it, and are not compared. */
	readonly folded: readonly string[] = $derived.by(() => {
		const parts = this.candidates.flatMap((each) => (each.method === 'combination' ? (each.of ?? []) : []));
		return this.hidden.filter((id) => parts.includes(id));
	});
	/** The candidates that have a row of their own. */
	readonly rows: readonly Candidate[] = $derived(
		this.candidates.filter(({ id }) => !this.folded.includes(id)),
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
		if (!isSame(candidates, this.candidates)) this.#go({ candidates }, stroke);
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
		const candidate = { ...settings, id: this.#freeIds()() };
		this.#go({ candidates: this.#withJoined([candidate]) });
		this.choose(candidate.id);
	}

	copy(id: string): void {
		const at = this.candidates.findIndex((candidate) => candidate.id === id);
		const twin = { ...this.candidates[at]!, id: this.#freeIds()() };
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
		const found = optimise ? this.found(candidate.id)?.[key] : undefined;
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

	/** Begins with what is proposed: that is no step of anybody's. */
	begin(proposal: Proposal): void {
		const lineUp = proposedLineUp(proposal, this.#freeIds());
		if (!lineUp || this.candidates.length > 0) return;
		const { candidates, hidden, chosen } = lineUp;
		this.#history = new History<Work>({ ...this.work, candidates, hidden });
		this.work = this.#history.now;
		this.chosenId = chosen;
	}

	/** Lets what is proposed join: the combination, the one method beside it, the yardstick. */
	takeProposal(proposal: Proposal): void {
		const naive = this.candidates.find(({ method }) => method === 'naive');
		const lineUp = proposedLineUp(proposal, this.#freeIds(), naive);
		if (!lineUp) return;
		const joining = lineUp.candidates.filter((each) => each !== naive);
		const isHidden = ({ id }: Candidate) => lineUp.hidden.includes(id);
		this.#go({
			candidates: [
				...this.#withJoined(joining.filter((each) => !isHidden(each))),
				...joining.filter(isHidden),
			],
			hidden: [...this.hidden, ...lineUp.hidden],
		});
		this.choose(lineUp.chosen);
	}

	undo(): void {
		if (this.#history.undo()) this.#settle(true);
	}

	redo(): void {
		if (this.#history.redo()) this.#settle(true);
	}

	/** Goes on to other work as a whole, one undo away from this. @param saves whether it is to be saved */
	goOnWith(work: Work, saves: boolean): void {
		this.#history.push(work);
		this.#settle(saves);
	}

	#go(change: Partial<Work>, stroke: string | null = null): void {
		this.#history.push({ ...this.work, ...change }, stroke);
		this.#settle(true);
	}

	#settle(saves: boolean): void {
		this.work = this.#history.now;
		this.#canUndo = this.#history.canUndo;
		this.#canRedo = this.#history.canRedo;
		const there = (id: string) => this.candidates.some((candidate) => candidate.id === id);
		if (!there(this.chosenId)) this.choose(this.#chosenBefore.findLast(there) ?? this.#firstChoice());
		this.changed(saves);
	}

	#firstChoice(): string {
		const same = this.candidates.find(({ method }) => method === this.adopted());
		return (same ?? this.rows.at(-1))?.id ?? '';
	}

	/** The line-up with others after the rows that are shown. */
	#withJoined(joining: readonly Candidate[]): Candidate[] {
		return [...this.rows, ...joining, ...this.candidates.filter(({ id }) => this.folded.includes(id))];
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

/** A line-up without parts that stood behind a combination which is no longer there. */
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
