/** What is brought in, and what became of it. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { isPlainText, listSchema, textSchema } from '$core/schemas';
import { FREQUENCIES } from '$core/series/frequency';
import { ChoicesSchema, COLUMN_ROLES } from '../reading/choices';
import { MOST_WORDS } from '../reading/evidence';
import { itemLines } from './parts';
import { type RefusalBody } from './service';

/** A text to bring in as one new item, and how it is to be read. */
export const NewItemSchema = v.strictObject({
	text: v.pipe(
		v.string('the text is missing'),
		v.maxLength(BOUNDS.tableCharacters, 'the text has at most 8 million characters'),
	),
	fileName: v.optional(textSchema('the file name', 1, BOUNDS.fileName)),
	...itemLines,
	choices: v.optional(ChoicesSchema, {}),
});

export type NewItem = v.InferOutput<typeof NewItemSchema>;

/** Which item of a table is wanted, and what it is to be called. */
const ItemRequestSchema = v.strictObject({
	/** As the table names it; empty for the one item of a table that names none. */
	from: v.pipe(
		v.string('from is a text'),
		v.maxLength(BOUNDS.cellCharacters, 'from is longer than any cell'),
		v.check(isPlainText, 'from holds characters that cannot be seen'),
	),
	...itemLines,
});

export type ItemRequest = v.InferOutput<typeof ItemRequestSchema>;

/** What is to be brought in of a table, which follows as bytes. */
export const BringInSchema = v.strictObject({
	fileName: v.optional(textSchema('the file name', 1, BOUNDS.fileName)),
	choices: v.optional(ChoicesSchema, {}),
	/** Fingerprint of the reading that was looked at; one that comes out otherwise is refused. */
	shown: v.optional(v.pipe(v.string(), v.regex(/^[0-9a-f]{16}$/, 'a fingerprint has 16 hexadecimal digits'))),
	items: v.pipe(
		listSchema(ItemRequestSchema, 'items are a list', 'items', BOUNDS.tableItems),
		v.minLength(1, 'at least one item is chosen'),
	),
});

export type BringIn = v.InferOutput<typeof BringInSchema>;

/** How a file too large to be read at once is brought in: every item of it, by the decisions made on its beginning. */
export const StreamSchema = v.strictObject({
	fileName: v.optional(textSchema('the file name', 1, BOUNDS.fileName)),
	choices: v.optional(ChoicesSchema, {}),
	/** Reads all of it, says what would come in, and stores nothing. */
	tryOnly: v.optional(v.boolean(), false),
});

export type StreamRequest = v.InferOutput<typeof StreamSchema>;

/** Codes to be looked up. */
export const CodesSchema = v.strictObject({
	codes: listSchema(textSchema('a code', 1, BOUNDS.code), 'codes are a list', 'codes', BOUNDS.codes),
});

/** A table that is looked at: words of it that may be codes, and what tables of its make have in common. */
export const KnownAskedSchema = v.strictObject({
	words: listSchema(textSchema('a word', 1, BOUNDS.code), 'words are a list', 'words', MOST_WORDS),
	make: v.nullable(textSchema('the make', 1, BOUNDS.name * 4)),
});
export type KnownAsked = v.InferOutput<typeof KnownAskedSchema>;

/** What a workspace knows of it. */
export const KnownTableSchema = v.strictObject({
	items: v.array(
		v.strictObject({
			code: v.string(),
			name: v.string(),
			frequency: v.picklist(FREQUENCIES),
			newest: v.nullable(v.number()),
		}),
	),
	last: v.nullable(
		v.strictObject({
			fileName: v.nullable(v.string()),
			at: v.string(),
			choices: ChoicesSchema,
			heads: v.array(v.string()),
			/** What could have been read in another way then, as it was said. */
			doubts: v.array(v.string()),
			columns: v.array(v.picklist(COLUMN_ROLES)),
			frequency: v.picklist(FREQUENCIES),
			decimal: v.string(),
		}),
	),
});
export type KnownTable = v.InferOutput<typeof KnownTableSchema>;

/** What became of one item of a table. */
export const BroughtInSchema = v.strictObject({
	code: v.string(),
	created: v.boolean(),
	/** Periods that were not there before, periods whose figure differed, and periods that were the same. */
	added: v.number(),
	corrected: v.number(),
	same: v.number(),
});

export type BroughtIn = v.InferOutput<typeof BroughtInSchema>;

/** How far a file is, line by line of the answer; the last line has `done` or `refused`. */
export type StreamProgress =
	| { stage: 'reading' | 'storing'; share: number; rows: number; items: number }
	| {
			done: {
				items: number;
				created: number;
				added: number;
				corrected: number;
				same: number;
				rows: number;
				stored: boolean;
			};
	  }
	| { refused: RefusalBody };

/** A file of the folder that is watched, which waits to be looked at. */
export const WaitingSchema = v.strictObject({
	id: v.number(),
	name: v.string(),
	at: v.string(),
	/** What makes somebody look at it first. */
	said: v.array(v.string()),
});
export type Waiting = v.InferOutput<typeof WaitingSchema>;
export const DecideSchema = v.strictObject({ taken: v.boolean('taken is true or false') });
