import * as v from 'valibot';

/**
 * A setting of a method that is not a smoothing constant: what it is called, what it may be, and what a new
 * candidate gets. Forms, request schema and refusals are made from it.
 */
export interface Field<Value = unknown> {
	readonly key: string;
	readonly name: string;
	readonly symbol: string;
	readonly meaning: string;
	/** Which control a form offers. */
	readonly control: 'integer' | 'weights';
	/** What a new candidate gets; a request has to say it. */
	readonly initial: Value;
	readonly schema: v.GenericSchema<unknown, Value>;
	/** The value in a validated candidate. */
	read(candidate: Readonly<Record<string, unknown>>): Value;
}

type Naming = Pick<Field, 'key' | 'name' | 'symbol' | 'meaning'>;

function field<Value>(
	naming: Naming,
	rest: Pick<Field<Value>, 'control' | 'initial' | 'schema'>,
): Field<Value> {
	return { ...naming, ...rest, read: (candidate) => candidate[naming.key] as Value };
}

/** A whole number of at least `minimum`. */
export function integerField(naming: Naming, minimum: number, initial: number): Field<number> {
	const expected = `${naming.name} is a whole number of at least ${minimum}`;
	return field(naming, {
		control: 'integer',
		initial,
		schema: v.pipe(v.number(expected), v.integer(expected), v.minValue(minimum, expected)),
	});
}

/** Weights from the oldest period to the newest: none below 0, at least one above it. */
export function weightsField(naming: Naming, initial: number[]): Field<number[]> {
	const expected = `${naming.name} are one or more figures, none below 0`;
	return field(naming, {
		control: 'weights',
		initial,
		schema: v.pipe(
			v.array(v.pipe(v.number(expected), v.finite(expected), v.minValue(0, expected)), expected),
			v.minLength(1, expected),
			v.check((weights) => weights.some((weight) => weight > 0), `${naming.name} cannot all be 0`),
		),
	});
}
