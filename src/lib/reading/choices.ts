import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { recordSchema, textSchema } from '$core/schemas';
import { FREQUENCIES } from '$core/series/frequency';
import { ENCODINGS } from './decode';
import { DELIMITERS } from './table';

/** What a column was taken for. */
export const COLUMN_ROLES = [
	'item',
	'name',
	'unit',
	'label',
	'period',
	'cycle',
	'season',
	'day',
	'status',
	'quantity',
	'figure',
	'total',
	'ignored',
] as const;
/** What a row was taken for: one of figures, or a heading that says something of the columns below it. */
export const ROW_ROLES = [
	'figures',
	'item',
	'name',
	'unit',
	'label',
	'period',
	'cycle',
	'season',
	'quantity',
	'total',
	'ignored',
] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];
export type RowRole = (typeof ROW_ROLES)[number];

/** Where figures of one period meet: what becomes of them. */
export const DUPLICATES = ['sum', 'mean', 'last'] as const;
export type Duplicates = (typeof DUPLICATES)[number];

/** Roles by position: a JSON object has texts for keys. */
const rolesOf = <const Roles extends readonly string[]>(roles: Roles) =>
	recordSchema(
		v.pipe(v.string(), v.regex(/^\d{1,6}$/, 'a position is a whole number')),
		v.picklist(roles),
		'roles are an object',
		'roles',
		BOUNDS.roles,
	);

/** How a table is to be read; what is left out is found out. */
export const ChoicesSchema = v.strictObject({
	sheet: v.optional(textSchema('the sheet', 1, BOUNDS.name)),
	encoding: v.optional(v.picklist(ENCODINGS)),
	delimiter: v.optional(v.picklist(DELIMITERS)),
	decimal: v.optional(v.picklist(['.', ','])),
	/** 12 % as 12, or as 0.12. */
	percent: v.optional(v.picklist(['whole', 'share'])),
	dateOrder: v.optional(v.picklist(['day-first', 'month-first'])),
	/** What stands for no figure is a gap, or a nought. */
	missing: v.optional(v.picklist(['gap', 'zero'])),
	/** First month of a business year, 1 … 12, and whether the year is called by the one it begins or ends in. */
	firstMonth: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(12))),
	yearNamed: v.optional(v.picklist(['begins', 'ends'])),
	duplicates: v.optional(v.picklist(DUPLICATES)),
	/** Of order lines: what a period without a line is, what becomes of returns, and of ends that the lines do not fill. */
	without: v.optional(v.picklist(['gap', 'zero'])),
	returns: v.optional(v.picklist(['less', 'leave', 'more'])),
	ends: v.optional(v.picklist(['leave', 'take'])),
	/** Of figures that are all negative. */
	sign: v.optional(v.picklist(['drop', 'keep'])),
	/** Which of several quantities is demand, as the table names it. */
	quantity: v.optional(textSchema('the quantity', 1, BOUNDS.name)),
	/** Whether codes and names in one cell are parted. */
	codes: v.optional(v.picklist(['part', 'whole'])),
	/** Of lines that say that they were cancelled. */
	cancelled: v.optional(v.picklist(['leave', 'take'])),
	/** Where an item comes in several units: those after the first are items of their own, are left out, or count the same. */
	units: v.optional(v.picklist(['apart', 'leave', 'same'])),
	columns: v.optional(rolesOf(COLUMN_ROLES)),
	rows: v.optional(rolesOf(ROW_ROLES)),
	order: v.optional(v.picklist(['down', 'across'])),
	frequency: v.optional(v.picklist(FREQUENCIES)),
	/** First period, where the table does not say it; written as PERIOD_EXAMPLE shows. */
	first: v.optional(textSchema('the first period', 0, BOUNDS.period)),
});
export type Choices = v.InferOutput<typeof ChoicesSchema>;
