/** Refusals, and how the service is. */
import * as v from 'valibot';
import { type RequestIssue } from '$core/questions/request';
import { wholeSchema } from '$core/schemas';
import { ItemLayersSchema } from './layers';

const issue = v.strictObject({ path: v.string(), message: v.string() }) satisfies v.GenericSchema<
	unknown,
	RequestIssue
>;

/** What refusals are answered as: problem details (RFC 9457), with what is ours beside them. */
export const PROBLEM = 'application/problem+json';

/** What every refused call answers with. */
export const RefusalSchema = v.strictObject({
	/** As the standard has it: the kind by its status alone, the status in words, the status, what went wrong here. */
	type: v.exactOptional(v.literal('about:blank')),
	title: v.exactOptional(v.string()),
	status: v.exactOptional(v.number()),
	detail: v.exactOptional(v.string()),
	message: v.string(),
	issues: v.exactOptional(v.pipe(v.array(issue), v.readonly())),
	/** The layers as they are, where entries came in between. */
	layers: v.exactOptional(ItemLayersSchema),
	/** What an item that was renamed is called now. */
	code: v.exactOptional(v.string()),
	/** Whether the password is to be given again first. */
	again: v.exactOptional(v.literal(true)),
	/** What came in since it was looked at, in words. */
	between: v.exactOptional(v.pipe(v.array(v.string()), v.readonly())),
});

export type RefusalBody = v.InferOutput<typeof RefusalSchema>;

/** What works sweeps off: whether any process does, and when one was last heard of, null for never. */
export const WorkerStateSchema = v.strictObject({ alive: v.boolean(), seen: v.nullable(v.string()) });

export type WorkerState = v.InferOutput<typeof WorkerStateSchema>;

/** Whether everything is there that the application needs; a part that is not says why. */
export const ReadySchema = v.strictObject({
	ready: v.boolean(),
	database: v.nullable(v.string()),
	migrations: v.nullable(v.string()),
	disk: v.nullable(v.string()),
	worker: v.nullable(v.string()),
	/** Why the last nightly backup failed, or that it is late; what is served goes on without. */
	backup: v.nullable(v.string()),
	/** How far the large demo is; null where none is being made. */
	demo: v.nullable(v.strictObject({ done: v.number(), of: v.number(), failed: v.nullable(v.string()) })),
});

export type Ready = v.InferOutput<typeof ReadySchema>;

/** How far the large demo is laid out: parts of all the work, and why it failed where it did. */
export type DemoProgress = NonNullable<Ready['demo']>;

/** What is kept, how large it is, and when what is over goes. */
export const KeptSchema = v.strictObject({
	sizes: v.array(v.strictObject({ what: v.string(), bytes: v.number(), held: v.number() })),
	/** Bytes of raw texts as they came, before the database compresses them. */
	rawBytes: v.number(),
	/** Days after which rows of a sweep go, once all was decided. */
	sweepDays: v.number(),
	/** When the nightly backup last was, and what came of it; null where there is none. */
	backup: v.nullable(v.strictObject({ at: v.string(), ok: v.boolean(), words: v.string() })),
});
export type Kept = v.InferOutput<typeof KeptSchema>;
export const KeepSchema = v.strictObject({
	sweepDays: wholeSchema(1, 36_500, 'the days that rows of a sweep are kept'),
});
