import { seededUniform } from '../../src/core/numbers/random';
import type { EvaluateRequest } from '../../src/core/questions/request';
import { RequestSchema } from '../../src/core/questions/request';
import { PERIOD_EXAMPLE } from '../../src/core/series/period';

/** What is looked at of a Valibot schema: its type, and the parts that its type has. */
export interface Schema {
	type: string;
	kind?: string;
	pipe?: readonly Schema[];
	wrapped?: Schema;
	entries?: Record<string, Schema>;
	options?: readonly unknown[];
	item?: Schema;
	items?: readonly Schema[];
	literal?: unknown;
	key?: Schema;
	value?: Schema;
	requirement?: unknown;
}

/** The actions of a schema, those of the schemas that it is made from included. */
const partsOf = (schema: Schema): Schema[] =>
	(schema.pipe ?? []).flatMap((part) => (part === schema ? [] : [part, ...(part.pipe ? partsOf(part) : [])]));

export interface Draws {
	/** In [0, 1). */
	uniform(): number;
	chance(share: number): boolean;
	/** A whole number from `low` to `high`. */
	whole(low: number, high: number): number;
	pick<T>(from: readonly T[]): T;
}

export function drawsFrom(seed: number): Draws {
	const uniform = seededUniform(seed);
	const whole = (low: number, high: number) => low + Math.floor(uniform() * (high - low + 1));
	return {
		uniform,
		whole,
		chance: (share) => uniform() < share,
		pick: (from) => from[whole(0, from.length - 1)]!,
	};
}

const EXTREMES = [0, -0, 1, -1, 0.5, 1e-300, -1e-12, 1e15, -1e15, 1e14, 9.99e14, 0.1, 7, 12];
const STRAYS: readonly unknown[] = [
	null,
	'',
	'x',
	'\u0000',
	'\ud800',
	-1,
	1e9,
	1e16,
	1e300,
	2.5,
	true,
	[],
	{},
	[[]],
	{ a: 1 },
	'9'.repeat(400),
];

/** How lists are filled: most of them short, a few long. */
const lengthOf = (draws: Draws, least: number, most: number): number => {
	const size = draws.uniform();
	const wanted = size < 0.7 ? draws.whole(0, 4) : size < 0.97 ? draws.whole(0, 40) : draws.whole(0, 400);
	return Math.min(most, Math.max(least, wanted));
};

/**
 * A value that a schema takes, as far as its shape and bounds say; checks that are functions are not looked into.
 * @param fault called for every part; where it says so, a stray value stands in its place
 */
export function drawFrom(schema: Schema, draws: Draws, fault: () => boolean = () => false): unknown {
	if (fault()) return draws.pick(STRAYS);
	const inner = (part: Schema) => drawFrom(part, draws, fault);
	const parts = partsOf(schema);
	const bound = (type: string) => parts.find((part) => part.type === type)?.requirement as number | undefined;
	switch (schema.type) {
		case 'strict_object':
		case 'object':
			return Object.fromEntries(
				Object.entries(schema.entries!).flatMap(([key, part]) => {
					const optional = /optional|nullish/.test(part.type);
					return optional && draws.chance(0.5) ? [] : [[key, inner(optional ? part.wrapped! : part)]];
				}),
			);
		case 'optional':
		case 'exact_optional':
		case 'nullish':
			return inner(schema.wrapped!);
		case 'nullable':
			return draws.chance(0.3) ? null : inner(schema.wrapped!);
		case 'variant':
		case 'union':
			return inner(draws.pick(schema.options as readonly Schema[]));
		case 'picklist':
			return draws.pick(schema.options!);
		case 'literal':
			return schema.literal;
		case 'boolean':
			return draws.chance(0.5);
		case 'strict_tuple':
			return (schema.items as readonly Schema[]).map(inner);
		case 'record':
			return Object.fromEntries(
				Array.from({ length: draws.whole(0, 3) }, (_, i) => [String(i), inner(schema.value!)]),
			);
		case 'string': {
			const most = Math.min(bound('max_length') ?? 60, 60);
			const least = Math.max(1, bound('min_length') ?? 1);
			const letters = 'abc XYZ-0129äß“→\u{1F6B2}';
			return Array.from({ length: Math.min(most, Math.max(least, draws.whole(1, 12))) }, () =>
				draws.pick([...letters]),
			)
				.join('')
				.slice(0, most);
		}
		case 'custom':
		case 'array': {
			const list = schema.type === 'array' ? schema : parts.find(({ type }) => type === 'array');
			const [least, most] = [bound('min_length') ?? 0, bound('max_length') ?? 400];
			const length = lengthOf(draws, least, most);
			if (!list) return Array.from({ length }, () => (draws.chance(0.1) ? null : numberIn(draws, {})));
			return Array.from({ length }, () => inner(list.item!));
		}
		case 'number':
			return numberIn(draws, {
				least: bound('min_value') ?? bound('gt_value'),
				most: bound('max_value') ?? bound('lt_value'),
				whole: parts.some(({ type }) => type === 'integer'),
				open: parts.some(({ type }) => type === 'gt_value' || type === 'lt_value'),
			});
		default:
			return draws.pick(STRAYS);
	}
}

function numberIn(
	draws: Draws,
	{
		least,
		most,
		whole = false,
		open = false,
	}: { least?: number | undefined; most?: number | undefined; whole?: boolean; open?: boolean },
): number {
	const low = (least ?? -1e15) + (open ? 1e-9 : 0);
	const high = (most ?? 1e15) - (open ? 1e-9 : 0);
	const kind = draws.uniform();
	const within = (value: number) => Math.min(high, Math.max(low, value));
	const drawn =
		kind < 0.1
			? low
			: kind < 0.2
				? high
				: kind < 0.4 && high - low < 10
					? low + (high - low) * draws.uniform()
					: kind < 0.5
						? within(draws.pick(EXTREMES))
						: kind < 0.8
							? within(low + draws.whole(0, 12))
							: within((draws.chance(0.8) ? 1 : -1) * 10 ** (18 * draws.uniform() - 3));
	return whole ? Math.floor(drawn) : drawn;
}

/** A seldom fault, at most `most` of them in one value. */
export function faultsOf(draws: Draws, share: number, most: number): () => boolean {
	let left = most;
	return () => {
		if (left === 0 || !draws.chance(share)) return false;
		left--;
		return true;
	};
}

type Loose = Record<string, unknown>;

/**
 * A request to `evaluate` drawn from its schema: most are taken, the others miss by little. What one part has to say of another
 * (ids, members, first periods) is put right for most of them.
 */
export function drawRequest(seed: number): EvaluateRequest {
	const draws = drawsFrom(seed);
	const fault = draws.chance(0.2) ? faultsOf(draws, 0.03, 2) : undefined;
	const request = drawFrom(RequestSchema as unknown as Schema, draws, fault) as Loose;
	if (typeof request !== 'object' || request === null) return request;
	const series = request.series as Loose | null;
	if (series && typeof series === 'object' && draws.chance(0.95)) putSeriesRight(series, draws);
	const list = request.candidates;
	if (Array.isArray(list)) {
		request.candidates = list.slice(0, 6);
		putCandidatesRight(request.candidates as unknown[], draws);
		if (Array.isArray(request.aside) && draws.chance(0.95))
			request.aside = (request.candidates as Loose[]).flatMap((one) =>
				draws.chance(0.3) && one?.id ? [one.id] : [],
			);
	}
	const values = series?.values;
	const periods = Array.isArray(values) ? values.length : 1;
	if (draws.chance(0.9) && typeof request.holdout === 'number')
		request.holdout = Math.min(request.holdout, Math.max(0, periods - 1));
	return request as unknown as EvaluateRequest;
}

function putSeriesRight(series: Loose, draws: Draws): void {
	const { frequency } = series;
	const { group } = series as { group?: Loose | null };
	if (typeof frequency === 'string' && frequency in PERIOD_EXAMPLE)
		for (const one of [series, ...(group && typeof group === 'object' ? [group] : [])])
			one.start =
				frequency === 'step' ? draws.whole(-5, 5) : PERIOD_EXAMPLE[frequency as keyof typeof PERIOD_EXAMPLE];
	const values = series.values;
	if (!Array.isArray(values)) return;
	if (typeof series.seasonLength === 'number' && draws.chance(0.8))
		series.seasonLength = draws.pick([1, 2, 4, 7, 12]);
	if (draws.chance(0.6)) {
		const size = 10 ** draws.whole(-6, 14);
		const least = draws.chance(0.8) ? size : -size;
		series.values = Array.from({ length: Math.max(values.length, draws.whole(1, 60)) }, () =>
			draws.chance(0.05) ? null : draws.chance(0.05) ? 0 : least + size * draws.uniform(),
		);
	}
	if (Array.isArray(series.excluded))
		series.excluded = series.excluded.map(() => draws.whole(1, (series.values as unknown[]).length));
}

function putCandidatesRight(candidates: unknown[], draws: Draws): void {
	const ids = candidates.map((_, i) => `c${i}`);
	candidates.forEach((candidate, i) => {
		if (typeof candidate !== 'object' || candidate === null) return;
		const one = candidate as Loose;
		if (draws.chance(0.97)) one.id = ids[i];
		const { index } = one as { index?: Loose | null };
		if (index && typeof index === 'object' && index.lent !== undefined && draws.chance(0.9))
			one.index = { rule: 'ratio-to-overall', lent: index.lent };
		if (one.method === 'combination' && draws.chance(0.95)) {
			const of = ids.filter((_, j) => j < i && draws.chance(0.6));
			one.of = of.length > 0 ? of : ids.slice(0, 1);
			if (Array.isArray(one.weights)) one.weights = (one.of as string[]).map(() => draws.whole(1, 5));
		}
		if (one.frozen !== undefined && draws.chance(0.8)) delete one.frozen;
	});
}
