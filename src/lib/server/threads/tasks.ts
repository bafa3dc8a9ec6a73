import type { Decision } from '../../reading/decision';
import type { MeasureIn, Measures } from '$core/accuracy/measures';
import type { RangeRule } from '$core/ranges/contract';
import type { Candidate } from '$core/methods/registry';
import type { CandidateResult } from '$core/questions/answer';
import type { Origins } from '$core/questions/bottom-up';
import type { EvaluateRequest, RequestIssue } from '$core/questions/request';
import type { MessagePort } from 'node:worker_threads';
import type { Frequency } from '$core/series/frequency';
import type { Layers } from '$core/series/layers';
import type { GroupInput } from '$core/series/series';
import type { Filled } from '../../reading/orders';
import type { BringIn, KnownAsked, KnownTable, StreamRequest } from '../../wire/bring-in';
import type { SweepFigure } from '../../wire/sweep-columns';
import type { Sweep } from '../../wire/sweeps';
import type { Refusal } from '../refusal';

/** What goes into a thread and comes out of it: plain data, for it is copied. */

/** What was calculated, or why not, in words for the caller. */
export type Outcome<T> =
	{ value: T } | { refused: { status: Refusal['status']; message: string; issues: readonly RequestIssue[] } };

/** How a task comes to its function. */
export interface Asked<T> {
	input: T;
}

/** An item's actuals and layers at one moment. */
export interface Seen {
	actuals: { first: number; values: (number | null)[] };
	frequency: Frequency;
	seasonLength: number;
	layers: Layers;
	/** What a group of it could lend a season from; null where there is none, or it needs none. */
	group: GroupInput | null;
}

/** A forecast to be made of an item for good, or to be made anew. */
export interface ForecastTask {
	seen: Seen;
	candidates: readonly Candidate[];
	scoreFrom: number | null;
	horizon: number;
	levels: readonly number[];
	/** Chance with which stock is to last. */
	service: number | null;
	/** Of a record that was made by an older rule of ranges; the newest where it is not said. */
	rangeRule?: RangeRule;
}

export interface Forecast {
	/** The whole request: evaluating it anew gives the same figures. */
	request: EvaluateRequest;
	/** Digest of its series, in hexadecimal digits. */
	digest: string;
	/** Of the first candidate, without per-period lists. */
	result: CandidateResult;
	label: string;
	/** The candidates with their constants as they were found. */
	held: Candidate[];
	/** What repeating the last actual, and the last cycle, says of each step; null where there is no such figure. */
	naive: (number | null)[];
	seasonalNaive: (number | null)[];
}

/** What a forecast would have said at earlier origins is asked for, of several items at once. */
export interface BeforehandTask {
	forecasts: readonly ForecastTask[];
	origins: Origins;
	/** Whether these are items of a group; else it is the group itself. */
	parts: boolean;
}

/** A table to be read as its reader in the browser had it read: what is wanted is JSON, the table bytes. */
export interface TableTask {
	/** `new`: one item, its text within the JSON; `items`: those that are wished for, of the table that is given apart. */
	kind: 'new' | 'items';
	request: Uint8Array;
	content: Uint8Array | null;
}

/** A table that came by itself: what is known of it; null where that is still to be asked for. */
export interface ArrivedTask {
	content: Uint8Array;
	known: KnownTable | null;
}

/** How such a table was read: what is asked of it, or what is to be brought in of it and what makes somebody look at it first. */
export type ArrivedReading =
	{ asks: KnownAsked } | { request: Pick<BringIn, 'choices' | 'shown' | 'items'>; doubts: string[] };

/** A table that was read: rows for the staging as COPY reads them, and what is kept of how it came. */
export interface TakenTable {
	items: Uint8Array;
	figures: Uint8Array;
	fileName: string | null;
	/** How it was read. */
	decision: Decision;
	/** What came in, byte for byte; null where the caller has it. */
	content: Uint8Array | null;
	/** Of the one item of a table that makes a new one. */
	only: { code: string; periods: number } | null;
}

/** A file to be read part by part; what is read goes to whoever has the other end of the port. */
export interface StreamTask {
	path: string;
	choices: StreamRequest['choices'];
	/** Whether an item's periods may come in any order. */
	anyOrder: boolean;
	port: MessagePort;
	/** Whose it is, which stands in every row of actuals. */
	workspaceId: number;
}

/** Rows as COPY reads them: of items that were not met before, of their labels, or of figures. */
export type StreamPart =
	/** How the file is read, before any of its rows. */
	| { kind: 'begin'; decision: Decision }
	| { kind: 'items'; items: Uint8Array }
	/** Labels of items, by code, that were not known when these were met. */
	| { kind: 'labels'; labels: Uint8Array }
	| {
			kind: 'figures';
			/** For `actual`, of items that were made for this file; and for the staging, of the others. */
			direct: Uint8Array;
			staged: Uint8Array;
			/** How many rows go straight to the actuals. */
			added: number;
			/** How far the file is. */
			bytes: number;
			rows: number;
			items: number;
	  };

/** That a part was taken; number and id, one after the other, of the items that were made; of the beginning, the change that rows are of. */
export interface StreamAnswer {
	ids: Float64Array;
}

export type StreamedFile =
	| { unsorted: true }
	| {
			unsorted: false;
			rows: number;
			items: number;
			/** What lines of orders fill; null for other tables. */
			filled: Filled | null;
	  };

/** What the newest record asks for, and the sums that it says. */
export type NewestShape = Pick<
	ForecastTask,
	'candidates' | 'scoreFrom' | 'horizon' | 'levels' | 'service'
> & { together: readonly { stock?: number | null }[] };

/** What is calculated for each item of a sweep. */
export type SweepWork = 'propose' | 'update' | 'try' | 'stock';

/** What a sweep is to come to for one item. */
export interface SweepTask {
	kind: SweepWork;
	seen: Seen;
	/** The newest record: its candidates as they are carried on, and its periods ahead; null without one. */
	before: NewestShape | null;
	/** What the sweep was told. */
	settings: Pick<Sweep['settings'], 'lineUp' | 'criterion' | 'service'>;
	/** The item's lead time in periods. */
	lead: number;
}

/** Of a forecast, what goes on record. */
export type Recordable = Omit<Forecast, 'result'> & {
	result: Pick<
		CandidateResult,
		'method' | 'rangeKind' | 'constants' | 'start' | 'measures' | 'alarm' | 'ahead' | 'together'
	>;
};

export interface SweepOutcome {
	/** Why there is nothing to adopt; null where there is. */
	refused: string | null;
	label: string | null;
	method: string | null;
	/** Whether its demand is rare, so that it is compared by squared errors; null where nothing came of it. */
	rare: boolean | null;
	/** Against what is adopted, over the same earlier periods; null where nothing is, or nothing could be told. */
	beside: {
		/** How much less it misses by, as a share. */
		gain: number;
		/** Whether that is clearly so. */
		clear: boolean;
		/** Sums of sizes of errors, and of what came. */
		absError: number;
		absErrorBefore: number;
		absActual: number;
	} | null;
	/** Of each candidate that was tried, by label: what is compared. */
	measures: TriedMeasures[] | null;
	/** Figures of its kind, by the names of its columns. */
	figures: Readonly<Partial<Record<SweepFigure, number | null>>> | null;
	/** Ready to be adopted, and the candidates as they were asked for. */
	ready: { forecast: Recordable; asked: readonly Candidate[] } | null;
}

export interface TriedMeasures extends Pick<Measures, MeasureIn<'sweep'>> {
	label: string;
	best: boolean;
}
