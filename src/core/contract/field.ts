import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { betweenSchema, listSchema, wholeSchema } from '../schemas';

/**
 * A setting of a method that is not a smoothing constant: what it is called, what it may be, and what a new
 * candidate gets. Forms, request schema and refusals are made from it.
 */
export interface Field<Value = unknown> {
	readonly key: string;
	readonly name: string;
	readonly symbol: string;
	readonly meaning: string;
	/** Which control a form offers; `none` where the setting has a place of its own on the screen. */
	readonly control: 'integer' | 'weights' | 'choice' | 'none';
	/** What a choice is made from, each with its name. */
	readonly options?: readonly { readonly value: Value; readonly name: string }[];
	/** What a new candidate gets. */
	readonly initial: Value;
	/** Methods that may stand inside this one, for the setting that says which: their own settings make its schema. */
	readonly inner?: readonly string[];
	readonly schema: v.GenericSchema<unknown, Value>;
	/** The value in a validated candidate. */
	read(candidate: Readonly<Record<string, unknown>>): Value;
}

type Naming = Pick<Field, 'key' | 'name' | 'symbol' | 'meaning'>;

function field<Value>(
	naming: Naming,
	rest: Pick<Field<Value>, 'control' | 'initial' | 'schema' | 'options' | 'inner'> & { unsaid?: Value },
): Field<Value> {
	const { unsaid, ...described } = rest;
	return {
		...naming,
		...described,
		read: (candidate) => (candidate[naming.key] ?? unsaid) as Value,
	};
}

/** A number of periods, of at least `minimum`. */
export function integerField(naming: Naming, minimum: number, initial: number): Field<number> {
	return field(naming, {
		control: 'integer',
		initial,
		schema: wholeSchema(minimum, BOUNDS.periods, naming.name),
	});
}

/** Weights from the oldest period to the newest: none below 0, at least one above it. */
export function weightsField(naming: Naming, initial: number[]): Field<number[]> {
	const expected = `${naming.name} are one or more figures, none below 0`;
	return field(naming, {
		control: 'weights',
		initial,
		schema: v.pipe(
			listSchema(betweenSchema(0, BOUNDS.figure, expected), expected, naming.name, BOUNDS.periods),
			v.minLength(1, expected),
			v.check((weights) => weights.some((weight) => weight > 0), `${naming.name} cannot all be 0`),
		),
	});
}

/**
 * One of a few named values.
 * @param unsaid what a request means that leaves it out; where absent, a request has to say it
 */
export function choiceField<Value extends string>(
	naming: Naming,
	options: readonly { readonly value: Value; readonly name: string }[],
	initial: Value,
	unsaid?: Value,
): Field<Value> {
	const values = options.map(({ value }) => value);
	const one = v.picklist(values, `${naming.key} is one of ${values.join(', ')}`);
	const schema = unsaid === undefined ? one : v.optional(one);
	return field<Value>(naming, {
		control: 'choice',
		options,
		initial,
		schema: schema as unknown as v.GenericSchema<unknown, Value>,
		...(unsaid !== undefined && { unsaid }),
	});
}

/**
 * A setting that has a shape and a place on the screen of its own.
 * @param unsaid what a request means that leaves it out
 */
export function shapedField<Value>(
	naming: Naming,
	shape: v.GenericSchema<unknown, Value>,
	initial: Value,
	unsaid: Value,
): Field<Value> {
	const schema = v.optional(shape) as unknown as v.GenericSchema<unknown, Value>;
	return field<Value>(naming, { control: 'none', initial, schema, unsaid });
}

/** A method inside another one, with its settings: `{ "method": "ses", "constants": { … } }`. */
export function innerField<Value>(naming: Naming, inner: readonly string[], initial: Value): Field<Value> {
	// The schema of the settings is made from the descriptions of the methods in `inner`.
	return field<Value>(naming, { control: 'none', initial, inner, schema: v.any() });
}
