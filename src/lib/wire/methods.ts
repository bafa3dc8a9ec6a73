/** The methods that there are, for programs that put candidates together. */
import * as v from 'valibot';
import { START_RULES } from '$core/contract/candidate';
import type { Method } from '$core/contract/method';
import { METHODS } from '$core/methods/registry';

export const MethodSchema = v.strictObject({
	id: v.string(),
	name: v.string(),
	/** When it fits an item, in one line. */
	fits: v.string(),
	/** Smoothing constants: what may be given, where a search looks, and what is taken where neither is said. */
	constants: v.array(
		v.strictObject({
			key: v.string(),
			symbol: v.string(),
			name: v.string(),
			bounds: v.strictTuple([v.number(), v.number()]),
			searched: v.strictTuple([v.number(), v.number()]),
			usual: v.number(),
		}),
	),
	/** Rules that its start may follow, its usual one first; none where it needs no start. */
	starts: v.array(v.picklist(START_RULES)),
	/** Its other settings. */
	settings: v.array(v.strictObject({ key: v.string(), name: v.string(), means: v.string() })),
});

/** Every method, in the order in which the trade tries them. */
export const methodsSaid = (): v.InferOutput<typeof MethodSchema>[] =>
	METHODS.map(({ id, name, fits, constants, starts, fields }: Method) => ({
		id,
		name,
		fits,
		constants: constants.map((each) => ({
			key: each.key,
			symbol: each.symbol,
			name: each.name,
			bounds: [...each.bounds],
			searched: [...each.searched],
			usual: each.fallback,
		})),
		starts: [...starts],
		settings: fields.map((field) => ({ key: field.key, name: field.name, means: field.meaning })),
	}));
