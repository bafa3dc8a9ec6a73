import type { GenericSchema } from 'valibot';
import type { Series } from '../series/series';
import type { CandidateInput, Constant, OptimiseInput, StartPart, StartRule } from './candidate';
import type { Field } from './field';
import type { FittedKind, Model, Others } from './model';
import type { Note } from './note';
import type { Working } from './working';

/**
 * A method's own description. Forms, tables, the search, the notes and the request schema are made from it: a
 * new method is a file with one of these and a line in the registry.
 */
export interface Method<
	Id extends string = string,
	Fields extends readonly Field[] = readonly Field[],
	Held extends object = object,
> {
	readonly id: Id;
	/** In the trade's words. */
	readonly name: string;
	/** When it fits an item, in one line. */
	readonly fits: string;
	/** Every constant it may have. */
	readonly constants: readonly Constant[];
	/** Those that a candidate has with its settings; all of them where this is absent. */
	constantsOf?(candidate: CandidateInput): readonly Constant[];
	readonly fields: Fields;
	/** Start rules it accepts, its default first; empty where it needs none. */
	readonly starts: readonly StartRule[];
	/** Start rule of a new candidate on screen, where another one than the default forecasts better. */
	readonly startNew?: StartRule;
	/** What its start consists of, for a candidate's own settings; what a given start has to say. */
	startParts?(candidate: CandidateInput): readonly StartPart[];
	/** What of a series it can follow, for a candidate's own settings. */
	follows(candidate: CandidateInput): {
		trend: boolean;
		season: false | 'additive' | 'multiplicative' | 'any';
	};
	/** The shortest name that tells candidates of one method apart: "Average of 3". */
	label(candidate: CandidateInput): string;
	/** Its name where there is room for some ten letters: the head of a column. */
	short(candidate: CandidateInput): string;
	kind(candidate: CandidateInput): FittedKind;
	/**
	 * From how many known periods on fitted values and forecasts are what they would be if nothing after them had come in yet: so it
	 * is where neither start nor indices nor a line rest on later periods. Infinity, or absent, where that is never so.
	 */
	onlyPastFrom?(candidate: CandidateInput, size: SeriesSize): number;
	/** Whether what it forecasts is the mean of what periods bring, so that counts of rare demand vary about it as periods do. */
	readonly rate?: true;
	/**
	 * Steps that a fit takes beside keeping and measuring what was fitted, a step being one period looked at once; absent where that
	 * is the search for its constants alone. `npm run bench -- cost` holds them against the clock.
	 * @param inner steps of a whole fit of the method inside, for methods that have one
	 */
	fitSteps?(candidate: CandidateInput, size: SeriesSize, inner: (size: SeriesSize) => number): number;
	/** Whether it has a model of its own errors, which ranges may come from. */
	modelled?(candidate: CandidateInput): boolean;
	/** Ids of the other candidates that it is made from. */
	dependsOn?(candidate: CandidateInput): readonly string[];
	/** Schema of what its search may hold, for methods that search something else than constants. */
	readonly held?: GenericSchema<unknown, Held>;
	/**
	 * Binds the method to a series.
	 * @param others the candidates beside it, for methods that are made from them
	 * @throws CannotRun with what it needs and what there is.
	 */
	bind(series: Series, candidate: CandidateInput, others?: Others): Model;
	/**
	 * Its arithmetic, for a candidate's own settings.
	 * @param namesOf names of the other candidates, whole and as short as the head of a column
	 */
	working(candidate: CandidateInput, namesOf?: (id: string) => { name: string; short: string }): Working;
}

/** A search of fewer periods takes no less: what it does beside its passes is then the most of it. */
export const periodsSearched = (periods: number): number => Math.max(periods, 150);

/** How long a series is. */
export interface SeriesSize {
	periods: number;
	seasonLength: number;
}

/** A description as it is, its id and its fields known by their names. */
export const defineMethod = <
	const Id extends string,
	const Fields extends readonly Field[],
	Held extends object = Readonly<Record<string, number>>,
>(
	described: Method<Id, Fields, Held>,
): Method<Id, Fields, Held> => described;

type Said<F> = F extends Field<unknown, string, infer Value> ? Value : never;
type Known<Fields extends readonly Field[]> = {
	readonly [F in Fields[number] as undefined extends Said<F> ? never : F['key']]: Said<F>;
} & { readonly [F in Fields[number] as undefined extends Said<F> ? F['key'] : never]?: Said<F> };

/** The settings of candidates of some methods: told apart by `method`, each with its own fields. */
export type SettingsOf<M extends Method> =
	M extends Method<infer Id, infer Fields, infer Held>
		? { readonly method: Id; readonly optimise?: OptimiseInput<Held> | undefined } & Known<Fields> &
				Pick<CandidateInput, 'constants' | 'start' | 'ranges'>
		: never;

/** Candidates of some methods. */
export type CandidateOf<M extends Method> = { readonly id: string } & SettingsOf<M>;

/** Thrown by `bind` where a method cannot run on a series; carries the reason as a note. */
export class CannotRun extends Error {
	override name = 'CannotRun';
	constructor(readonly note: Note) {
		super(note.text);
	}
}

/** Refuses with "needs … ; this series has …". */
export function tooFew(name: string, needs: number, has: number, what: string, help: string): CannotRun {
	return new CannotRun({
		code: 'too-few-periods',
		text: `${name} needs ${needs} ${what}; this series has ${has}. ${help}`,
		figures: { needs, has },
	});
}
