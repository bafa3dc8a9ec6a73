/**
 * Every call of the HTTP interface, declared once: what it takes and gives, and what it does, in the words of docs/http.md. The
 * server checks and answers by it, the browser's calls have their types from it, the documentation's list is made from it.
 */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { textSchema } from '$core/schemas';
import { AskedSchema, LIST_INSIDE, LIST_PARAMS, writtenIn } from './asked-schema';
import { AnswerSchema } from '$core/questions/answer';
import { RequestSchema } from '$core/questions/request';
import { AdoptedForecastSchema, AdoptSchema, ForecastSchema, UpdateAdoptedSchema } from './records';
import {
	BringInSchema,
	BroughtInSchema,
	CodesSchema,
	KnownAskedSchema,
	KnownTableSchema,
	NewItemSchema,
	StreamSchema,
	DecideSchema,
	WaitingSchema,
} from './bring-in';
import {
	FoundSchema,
	ItemWindowSchema,
	KeptViewSchema,
	OverviewSchema,
	PlacesSchema,
	SeveralSchema,
	WordsSchema,
} from './list';
import { ItemChangeSchema, ItemSchema, LineUpSchema, StoredSeriesSchema } from './items';
import { ItemLayersSchema, LayerEntriesSchema } from './layers';
import { ItemGradesSchema, NewestSchema, HideSchema, WatchingSchema } from './status';
import { CUT, type Query, queryOf } from './query';
import { SWEEP_INSIDE, SWEEP_PARAMS, sweepWritten } from './sweep-asked';
import { NewSweepSchema, SweepAskedSchema, SweepSchema, SweepSumsSchema, SweepWindowSchema } from './sweeps';
import {
	ByLabelsSchema,
	GroupsSchema,
	CloserSchema,
	ItemPartsSchema,
	MadeSumSchema,
	NewSumSchema,
} from './groups';
import { MethodSchema } from './methods';
import {
	AccessSchema,
	FactorOnSchema,
	type For,
	HAPPENED_QUERY,
	HappenedWindowSchema,
	LinkSchema,
	MadeTokenSchema,
	MeSchema,
	NewFactorSchema,
	NewPasswordSchema,
	NewPersonSchema,
	NewTokenSchema,
	PeopleSchema,
	PersonChangeSchema,
	PersonSchema,
	ProveAgainSchema,
	SessionSchema,
	SignInSchema,
	TokenSchema,
	UseLinkSchema,
} from './access';
import { KeepSchema, KeptSchema, ReadySchema } from './service';

/** Which items the list is asked for, in what order, and what else. */
const ofList = <const Entries extends v.ObjectEntries>(
	params: Query['params'],
	entries: Entries,
	written: Query['written'],
) =>
	queryOf({
		params: { ...LIST_PARAMS, ...params },
		inside: LIST_INSIDE,
		schema: v.strictObject({ asked: AskedSchema, ...entries }),
		written: (address) => ({ asked: writtenIn(address), ...(written(address) as object) }),
	});
/** Which rows of a sweep, in what order, and what else. */
const ofSweep = <const Entries extends v.ObjectEntries>(
	params: Query['params'],
	entries: Entries,
	written: Query['written'],
) =>
	queryOf({
		params: { ...SWEEP_PARAMS, ...params },
		inside: SWEEP_INSIDE,
		schema: v.strictObject({ asked: SweepAskedSchema, ...entries }),
		written: (address) => ({ asked: sweepWritten(address), ...(written(address) as object) }),
	});
const nothing = () => ({});
const BY = { by: { does: 'a kind of label to group by', many: true } } as const;
const by = (address: URLSearchParams) => ({ by: address.getAll('by') });

export const LIST_QUERY = ofList({}, {}, nothing);
export const SWEEP_QUERY = ofSweep({}, {}, nothing);
/** A page of groups groups by what there is, where its address says nothing. */
export const GROUPS_PAGE_QUERY = ofList(BY, { by: v.array(v.string()) }, by);
const FIND_QUERY = queryOf({
	params: { words: { does: 'words that each stand in the code, the name or a label' } },
	schema: WordsSchema,
	written: (address) => ({ words: address.get('words') ?? '' }),
});
const FORECASTS_QUERY = ofList(
	{ after: { does: 'the code that the last answer ended with' } },
	{ after: v.nullable(textSchema('the code', 1, BOUNDS.code)) },
	(address) => ({ after: address.get('after') }),
);
const RECORDS_QUERY = queryOf({
	params: { before: { does: 'the id of a record: those older than it' } },
	schema: v.strictObject({
		before: v.nullable(
			v.pipe(
				v.string(),
				v.regex(/^\d{1,15}$/, 'before is the number of an adopted forecast'),
				v.transform(Number),
			),
		),
	}),
	written: (address) => ({ before: address.get('before') }),
});

/** What a call may be refused for, beside what any call may: 401, 403, 413, 415, 422, 429, 499, 500, 503. */
export type OwnRefusal = 404 | 409;

/** What a call is. */
export interface Call {
	/** Whom it is for. */
	who: For;
	/** Whether the password must have been given lately: what it does gives or takes access. */
	fresh?: true;
	/** What it is asked behind the question mark. */
	query?: Query;
	refuses?: readonly OwnRefusal[];
	/** What the answer is where that is no JSON. */
	type?: string;
	/** Other statuses with the same answer. */
	also?: readonly 503[];
	/** Schema of the JSON that it takes; of its first line, where a file follows. */
	takes?: v.GenericSchema;
	/** Whether it makes a second record when it is repeated, so that a key has it done once: `Idempotency-Key`. */
	once?: true;
	/** Whether bytes follow the line of JSON. */
	file?: true;
	/** Whether it may name many items or periods, so that it is read apart from serving where it is large. */
	large?: true;
	/** Schema of the JSON that it answers; null where that is something else. */
	gives: v.GenericSchema | null;
	/** Status of its answer; 200 unless said otherwise. */
	status?: 200 | 201;
	does: string;
}

type Key = `${'GET' | 'POST' | 'PUT' | 'PATCH'} /${string}`;

/** By method and path below /api/v1; what stands in brackets names an item by its code, or a record by its id. */
export const CALLS = {
	'POST /evaluate': {
		who: 'look',
		takes: RequestSchema,
		gives: AnswerSchema,
		does: 'the arithmetic: request and answer below',
	},
	'GET /methods': {
		who: 'look',
		gives: v.array(MethodSchema),
		does: 'every method with when it fits, its constants with their bounds, its starts and settings: what a candidate is put together from',
	},
	'GET /items': {
		who: 'look',
		query: ofList(CUT.params, CUT.entries, CUT.written),
		gives: ItemWindowSchema,
		does: 'a window of the list of items, with their adopted forecasts and how these stand; the query says which items and in what order, as below. `from`, a place as JSON, is where it begins, `most` how many there are at the most',
	},
	'GET /places': {
		who: 'look',
		query: LIST_QUERY,
		gives: PlacesSchema,
		does: 'how many items fit the query, and where each window of the list begins: places for `GET /items?from=`',
	},
	'GET /overview': {
		who: 'look',
		gives: OverviewSchema,
		does: 'what is said over all items: how many there are by reason, method, label and frequency, how the newest period of each frequency stands, and the saved views',
	},
	'GET /groups': {
		who: 'look',
		query: ofList(BY, { by: ByLabelsSchema }, by),
		gives: GroupsSchema,
		does: 'the items that the query asks for by one or two kinds of labels, `by` once or twice: how many, how many to look at, what is handed over for the next period, how far off it was, and how many lay inside their ranges',
	},
	'POST /groups': {
		who: 'work',
		once: true,
		refuses: [409],
		takes: NewSumSchema,
		gives: MadeSumSchema,
		does: 'makes an item of the items that have some labels, its figures theirs added up; where there is one already, says which. Its figures follow those of its items',
	},
	'PUT /views': {
		who: 'work',
		takes: KeptViewSchema,
		gives: v.array(v.strictObject({ name: v.string(), asked: AskedSchema })),
		does: 'saves a view of the list by its name, or deletes it; answers those that are saved',
	},
	'GET /find': {
		who: 'look',
		query: FIND_QUERY,
		gives: FoundSchema,
		does: 'items of which each of the `words` of the query stands in the code, the name or a label: the likeliest nine, and how many there are',
	},
	'GET /forecasts': {
		who: 'look',
		query: FORECASTS_QUERY,
		gives: v.array(ForecastSchema),
		does: 'adopted figures to hand over, of items that the query asks for and that have any for periods that are not in yet, by code, at most 200 at a time; `after`, the last code of an answer, goes on from there',
	},
	'GET /newest': {
		who: 'look',
		gives: v.array(NewestSchema),
		does: 'how the newest period of each frequency stands over all items',
	},
	'PUT /watching': {
		who: 'manage',
		takes: WatchingSchema,
		gives: WatchingSchema,
		does: 'sets how often an unbiased forecast may be called biased within 24 periods',
	},
	'POST /items': {
		who: 'work',
		once: true,
		refuses: [409],
		takes: NewItemSchema,
		gives: v.strictObject({ code: v.string(), periods: v.number() }),
		status: 201,
		does: 'reads the text and keeps it as a new item, all or nothing',
	},
	'POST /bring-in': {
		who: 'work',
		once: true,
		refuses: [409],
		takes: BringInSchema,
		file: true,
		gives: v.array(BroughtInSchema),
		does: 'a line of JSON, then the table byte for byte, as `application/octet-stream`: new items, new periods, corrections as revisions; answers what became of each',
	},
	'POST /bring-in/compare': {
		who: 'look',
		takes: CodesSchema,
		large: true,
		gives: v.array(StoredSeriesSchema),
		does: 'what is kept of these items',
	},
	'POST /bring-in/known': {
		who: 'look',
		takes: KnownAskedSchema,
		large: true,
		gives: KnownTableSchema,
		does: 'what is known of a table before it is brought in: which of its words are codes or names of items, and how the last table of its make was read',
	},
	'POST /bring-in/stream': {
		who: 'work',
		type: 'application/x-ndjson',
		takes: StreamSchema,
		file: true,
		gives: null,
		does: 'a line of JSON, then a delimited file of any size; answers lines of JSON: `{ stage, share, rows, items }` …, and last `{ done }` or `{ refused }`. Whoever hangs up stops it',
	},
	'GET /waiting': {
		who: 'look',
		gives: v.array(WaitingSchema),
		does: 'files of the folder that is watched (`VENTREL_INBOX`) that wait to be looked at, with what was said of them',
	},
	'GET /waiting/[id]': {
		who: 'look',
		refuses: [404],
		type: 'application/octet-stream',
		gives: null,
		does: 'one of them, byte for byte',
	},
	'POST /waiting/[id]/decided': {
		who: 'work',
		refuses: [404],
		takes: DecideSchema,
		gives: v.array(WaitingSchema),
		does: 'says that it was brought in by hand (`taken`), or is not wanted; answers those that still wait',
	},
	'GET /items/[code]': {
		who: 'look',
		refuses: [404],
		gives: ItemSchema,
		does: 'figures, line-up, layers, adopted forecast, all of one moment; `seen` is the newest change of its actuals; what it was called',
	},
	'PATCH /items/[code]': {
		who: 'work',
		refuses: [404, 409],
		takes: ItemChangeSchema,
		gives: ItemSchema,
		does: 'renames or labels it, retires it or brings it back, or says how it is planned with; 409 where it is not as `seen` says, or the code is taken',
	},
	'POST /items/[code]/layers': {
		who: 'work',
		refuses: [404, 409],
		takes: LayerEntriesSchema,
		large: true,
		gives: ItemLayersSchema,
		does: 'entries over the actuals, `seen` the newest entry that they were made over: each has its `kind` (`correction` `{ to, over }`, `gap`, `gap-rule`, `left-out`, `event`, `per-day`, `season-length`, `off`), where it belongs (`period` as an ordinal, `layer`) and its `setting`; one of null deletes it. 409 with the layers as they are where others came in between',
	},
	'GET /items/[code]/raw': {
		who: 'look',
		refuses: [404],
		type: 'application/octet-stream',
		gives: null,
		does: 'the text it was brought in from, byte for byte',
	},
	'PUT /items/[code]/line-up': {
		who: 'work',
		refuses: [404, 409],
		takes: LineUpSchema,
		large: true,
		gives: v.strictObject({ version: v.number() }),
		does: 'saves the line-up; 409 where another version was saved in between',
	},
	'GET /items/[code]/adopted': {
		who: 'look',
		query: RECORDS_QUERY,
		refuses: [404],
		gives: v.array(AdoptedForecastSchema),
		does: 'adopted forecasts, the newest first, at most twenty at a time, fewer where they are long; `?before=ID` goes on from there',
	},
	'POST /items/[code]/adopted': {
		who: 'work',
		once: true,
		refuses: [404, 409],
		takes: AdoptSchema,
		large: true,
		gives: AdoptedForecastSchema,
		status: 201,
		does: 'adopts a candidate, `others` being those that a combination is made from: calculated here from what is stored; 409, with the difference, where actuals or layers came in since or the steps are not those that were shown; 422 where a step has no figure. Answers the record that was made',
	},
	'POST /items/[code]/updated': {
		who: 'work',
		once: true,
		refuses: [404, 409],
		takes: UpdateAdoptedSchema,
		gives: AdoptedForecastSchema,
		status: 201,
		does: 'adopts the newest record again on the actuals as they are now, with the same settings, rounding and changes to periods still ahead; its constants are searched again or kept, as the item says. 409 where actuals or layers came in since they were seen, or nothing came in since it was adopted. Answers the record that was made',
	},
	'GET /items/[code]/parts': {
		who: 'look',
		refuses: [404],
		gives: ItemPartsSchema,
		does: 'of an item that is the sum of others: how many they are, what it has to wait for, and what is handed over for them, added up',
	},
	'GET /items/[code]/closer': {
		who: 'look',
		refuses: [404],
		gives: CloserSchema,
		does: 'of an item that is the sum of others: how much closer what is adopted for it would have come than the sum of what is adopted for its items, from the same earlier origins (`gain`, below 0 where the sum is closer). 422 where it or an item of it has no forecast',
	},
	'GET /items/[code]/grades': {
		who: 'look',
		refuses: [404],
		gives: ItemGradesSchema,
		does: 'each period that came in, compared with the forecast in force for it',
	},
	'POST /items/[code]/hidden': {
		who: 'work',
		once: true,
		refuses: [404, 409],
		takes: HideSchema,
		gives: HideSchema,
		does: 'hides it until its next actual, or shows it again; 409 where actuals came in since they were seen',
	},
	'GET /items/[code]/adopted/[id]': {
		who: 'look',
		refuses: [404],
		gives: v.strictObject({ sameData: v.boolean(), sameFigures: v.boolean() }),
		does: 'a record of this item, calculated again',
	},
	'POST /several': {
		who: 'work',
		once: true,
		refuses: [404],
		takes: SeveralSchema,
		large: true,
		gives: v.strictObject({ items: v.number() }),
		does: 'changes several items at once, all of them or none: hides them until their next actual or shows them again, sets a season length, gap rule, lead time, what becomes of constants, or a label, or retires them; answers how many',
	},
	'POST /demo/cleared': {
		who: 'manage',
		gives: v.strictObject({ items: v.number() }),
		does: 'retires the items that came with the demo: they leave the list, and everything of them stays on record; answers how many',
	},
	'GET /sweeps': {
		who: 'look',
		gives: v.array(SweepSchema),
		does: 'the newest fifty sweeps, and how far each of them is',
	},
	'POST /sweeps': {
		who: 'work',
		once: true,
		refuses: [404, 409],
		takes: NewSweepSchema,
		large: true,
		gives: SweepSchema,
		status: 201,
		does: 'begins a sweep over items: those that the list is asked for (but `except`), or `codes`. `propose` makes a proposal for each beside what is adopted, `update` the next record of its run, `try` evaluates `settings.lineUp` on each; `share` puts the shares of what is adopted for a group as one in place of the figures of its items, `{ partsOf }` and `settings.share` (by `forecasts`, or by the `cycle`’s demand); `adopt` puts rows of the sweep `of` on record, those of `codes` or by a `rule` (`clear`: clearly smaller errors, `all`: all that can be), each alone, all under one `reason`. 422 where there is no such item, 409 where the sweep is still being worked on',
	},
	'GET /sweeps/[id]': {
		who: 'look',
		refuses: [404],
		gives: v.strictObject({ sweep: SweepSchema, sums: SweepSumsSchema }),
		does: 'a sweep, and its result over all its items',
	},
	'GET /sweeps/[id]/rows': {
		who: 'look',
		query: ofSweep(CUT.params, CUT.entries, CUT.written),
		refuses: [404],
		gives: SweepWindowSchema,
		does: 'a window of what came of its items; the query says which and in what order, and `from` and `most` are as for the list',
	},
	'GET /sweeps/[id]/places': {
		who: 'look',
		query: SWEEP_QUERY,
		refuses: [404],
		gives: PlacesSchema,
		does: 'how many of its rows fit, and where each window of them begins',
	},
	'POST /sweeps/[id]/stopped': {
		who: 'work',
		refuses: [404],
		gives: SweepSchema,
		does: 'stops it: what is done stays',
	},
	'GET /progress': {
		who: 'look',
		type: 'text/event-stream',
		gives: null,
		does: 'how far sweeps are, as server-sent events: each as `sweep`, all of them first and then whenever one has changed; and as `worker` whether any process works at them, and when one last reported',
	},
	'POST /sign-in': {
		who: 'anyone',
		refuses: [409],
		takes: SignInSchema,
		gives: MeSchema,
		does: 'signs in with name, password and, where it is on, the code of the second factor; the session is a cookie. 401 where one of them is wrong, whichever it is; 429 after several that were',
	},
	'POST /sign-out': {
		who: 'look',
		gives: v.strictObject({}),
		does: 'ends the session that asks',
	},
	'POST /invited': {
		who: 'anyone',
		refuses: [409],
		takes: UseLinkSchema,
		gives: MeSchema,
		does: 'chooses a password by the key of a link, which is good once and for a day, and signs in; a second factor is off then',
	},
	'GET /me': {
		who: 'look',
		gives: MeSchema,
		does: 'who asks, and what they may',
	},
	'POST /me/again': {
		who: 'look',
		takes: ProveAgainSchema,
		gives: v.strictObject({}),
		does: 'gives the password again, which is asked for before people, tokens and roles are changed',
	},
	'PUT /me/password': {
		who: 'look',
		takes: NewPasswordSchema,
		gives: v.strictObject({}),
		does: 'changes the password; all other sessions end',
	},
	'POST /me/second-factor': {
		who: 'look',
		fresh: true,
		gives: NewFactorSchema,
		does: 'proposes a secret for time-based codes (RFC 6238)',
	},
	'PUT /me/second-factor': {
		who: 'look',
		fresh: true,
		takes: FactorOnSchema,
		gives: MeSchema,
		does: 'switches the second factor on, with a code that its secret gives now',
	},
	'POST /me/second-factor/off': {
		who: 'look',
		fresh: true,
		refuses: [409],
		gives: MeSchema,
		does: 'switches the second factor off; 409 where it is demanded',
	},
	'GET /sessions': {
		who: 'look',
		gives: v.array(SessionSchema),
		does: 'the sessions of whoever asks',
	},
	'POST /sessions/[id]/ended': {
		who: 'look',
		refuses: [404],
		gives: v.array(SessionSchema),
		does: 'ends one of them, and answers those that are left',
	},
	'GET /people': {
		who: 'manage',
		gives: PeopleSchema,
		does: 'who may sign in, with which role',
	},
	'POST /people': {
		who: 'manage',
		fresh: true,
		refuses: [409],
		takes: NewPersonSchema,
		gives: LinkSchema,
		status: 201,
		does: 'invites a person; answers the key of a link for them, which is shown once',
	},
	'PATCH /people/[id]': {
		who: 'manage',
		fresh: true,
		refuses: [404, 409],
		takes: PersonChangeSchema,
		gives: v.nullable(PersonSchema),
		does: 'gives a person another role, or ends their access: their sessions end at once. 409 where nobody would be left who manages',
	},
	'POST /people/[id]/link': {
		who: 'manage',
		fresh: true,
		refuses: [404],
		gives: LinkSchema,
		does: 'answers the key of a new link by which a person chooses a password again; links before it are no longer good',
	},
	'PUT /access': {
		who: 'manage',
		fresh: true,
		refuses: [409],
		takes: AccessSchema,
		gives: AccessSchema,
		does: 'demands a second factor of who manages, or leaves it free',
	},
	'GET /tokens': {
		who: 'manage',
		gives: v.array(TokenSchema),
		does: 'tokens of programs',
	},
	'POST /tokens': {
		who: 'manage',
		fresh: true,
		refuses: [409],
		takes: NewTokenSchema,
		gives: MadeTokenSchema,
		status: 201,
		does: 'makes a token for a program, which is shown once; sent as `Authorization: Bearer TOKEN`',
	},
	'POST /tokens/[id]/revoked': {
		who: 'manage',
		fresh: true,
		refuses: [404],
		gives: v.array(TokenSchema),
		does: 'revokes a token at once, and answers those that are left',
	},
	'GET /happened': {
		who: 'look',
		query: HAPPENED_QUERY,
		gives: HappenedWindowSchema,
		does: 'what happened, the newest first: who brought in, adjusted, adopted and swept; for who manages also sign-ins, changes of access, and what was refused',
	},
	'GET /kept': {
		who: 'manage',
		gives: KeptSchema,
		does: 'what is kept and how large it is, when what is over goes, and when the nightly backup last was',
	},
	'PUT /kept': {
		who: 'manage',
		takes: KeepSchema,
		gives: KeptSchema,
		does: 'sets after how many days rows of a sweep go, once all was decided',
	},
	'GET /everything': {
		who: 'manage',
		type: 'application/zip',
		gives: null,
		does: 'everything as one archive of CSV and JSON with a description, as it is at one moment, without passwords and keys; that it was taken is on record. One is written at a time',
	},
	'GET /metrics': {
		who: 'look',
		type: 'text/plain; version=0.0.4',
		gives: null,
		does: 'figures for monitoring, in the open text format: requests, items, what waits, workers, disk, backup',
	},
	'GET /health': {
		who: 'anyone',
		gives: v.strictObject({ process: v.number() }),
		does: 'which process answers; needs no database',
	},
	'GET /openapi.json': {
		who: 'look',
		gives: v.looseObject({ openapi: v.string() }),
		does: 'this interface as OpenAPI 3.1 describes one',
	},
	'GET /ready': {
		who: 'look',
		also: [503],
		gives: ReadySchema,
		does: 'whether everything is there: the database, its migrations, room on the disk, and a worker that reported within 15 s. What is not there says why, and the status is 503 then',
	},
} satisfies Record<Key, Call>;

export type Calls = typeof CALLS;
export type CallKey = keyof Calls;

/** The places in a path that are to be filled in. */
export type PlacesOf<Path extends string> = Path extends `${string}[${infer Place}]${infer Rest}`
	? Place | PlacesOf<Rest>
	: never;
export type Takes<Of extends CallKey> = Calls[Of] extends { takes: infer Schema extends v.GenericSchema }
	? v.InferInput<Schema>
	: undefined;
/** What was taken, checked. */
export type Taken<Of extends CallKey> = Calls[Of] extends { takes: infer Schema extends v.GenericSchema }
	? v.InferOutput<Schema>
	: undefined;
/** What was asked behind the question mark, checked. */
export type Asks<Of extends CallKey> = Calls[Of] extends { query: Query<infer Schema> }
	? v.InferOutput<Schema>
	: undefined;
export type Gives<Of extends CallKey> = Calls[Of]['gives'] extends infer Schema extends v.GenericSchema
	? v.InferOutput<Schema>
	: never;
