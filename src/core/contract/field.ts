import * as v from 'valibot';
import { BOUNDS } from '../bounds';
import { betweenSchema, listSchema, wholeSchema } from '../schemas';

/**
 * A setting of a method that is not a smoothing constant: what it is called, what it may be, and what a new
 * candidate gets. Forms, request schema and refusals are made from it.
 */
export interface Field<Value = unknown, Key extends string = string, Said = Value | undefined> {
	readonly key: Key;
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
	/** Of what stands in a candidate; nothing may, where it need not be said. */
	readonly schema: v.GenericSchema<unknown, Said>;
	/** The value that a validated candidate means. */
	read(candidate: object): Value;
}

type Naming<Key extends string = string> = Pick<Field<unknown, Key>, 'key' | 'name' | 'symbol' | 'meaning'>;

function field<Value, Key extends string, Said>(
	naming: Naming<Key>,
	rest: Pick<Field<Value, Key, Said>, 'control' | 'initial' | 'schema' | 'options' | 'inner'> & {
		unsaid?: Value;
	},
): Field<Value, Key, Said> {
	const { unsaid, ...described } = rest;
	return {
		...naming,
		...described,
		read: (candidate) => ((candidate as Readonly<Record<string, unknown>>)[naming.key] ?? unsaid) as Value,
	};
}

/** A number of periods, of at least `minimum`. */
export function integerField<const Key extends string>(
	naming: Naming<Key>,
	minimum: number,
	initial: number,
) {
	return field(naming, {
		control: 'integer',
		initial,
		schema: wholeSchema(minimum, BOUNDS.periods, naming.name),
	});
}

/** Weights from the oldest period to the newest: none below 0, at least one above it. */
export function weightsField<const Key extends string>(naming: Naming<Key>, initial: number[]) {
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

/** One of a few named values. */
export function choiceField<const Key extends string, const Value extends string>(
	naming: Naming<Key>,
	options: readonly { readonly value: Value; readonly name: string }[],
	initial: NoInfer<Value>,
) {
	return field<Value, Key, Value>(naming, {
		control: 'choice',
		options,
		initial,
		schema: oneOf(naming, options),
	});
}

/** The same where a request that leaves it out means one of them. */
export function usualChoiceField<const Key extends string, const Value extends string>(
	naming: Naming<Key>,
	options: readonly { readonly value: Value; readonly name: string }[],
	unsaid: NoInfer<Value>,
) {
	const schema = v.optional(oneOf(naming, options));
	return field<Value, Key, Value | undefined>(naming, {
		control: 'choice',
		options,
		initial: unsaid,
		schema,
		unsaid,
	});
}

function oneOf<Value extends string>({ key }: Naming, options: readonly { readonly value: Value }[]) {
	const values = options.map(({ value }) => value);
	return v.picklist(values, `${key} is one of ${values.join(', ')}`);
}

/**
 * A setting that has a shape and a place on the screen of its own.
 * @param usual what a new candidate gets, and what a request means that leaves it out
 */
export function shapedField<const Key extends string, Shape, Usual extends Shape | undefined>(
	naming: Naming<Key>,
	shape: v.GenericSchema<unknown, Shape>,
	usual: Usual,
) {
	return field<undefined extends Usual ? Shape | undefined : Shape, Key, Shape | undefined>(naming, {
		control: 'none',
		initial: usual as Shape,
		schema: v.optional(shape),
		unsaid: usual as Shape,
	});
}

/** A method inside another one, with its settings: `{ "method": "ses", "constants": { … } }`. */
export function innerField<const Key extends string, Value>(
	naming: Naming<Key>,
	inner: readonly string[],
	initial: Value,
) {
	// The schema of the settings is made from the descriptions of the methods in `inner`.
	return field<Value, Key, Value>(naming, { control: 'none', initial, inner, schema: v.any() });
}
