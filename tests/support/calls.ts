import * as v from 'valibot';
import { type CallKey, CALLS } from '../../src/lib/wire/calls';
import { RefusalSchema } from '../../src/lib/wire/service';
import { type Draws, drawFrom, drawRequest, drawsFrom, faultsOf, type Schema } from './from-schema';

/** What was seen of an item, for calls that have to name it. */
export interface Known {
	seen: number;
	seenLayers: number;
	seenRecord: number | null;
	version: number;
	name: string;
	unit: string;
}

/** A call of the HTTP interface, drawn at random. */
export interface Call {
	method: string;
	path: string;
	body: string | null;
	type: string | null;
	/** What it answers where it is taken; null where that is no JSON. */
	answer: v.GenericSchema | null;
}

const asSchema = (schema: unknown) => schema as Schema;
/** Names that objects have by themselves. */
const HOSTILE = ['__proto__', 'constructor', 'prototype', 'toString', 'valueOf', 'hasOwnProperty'];

/** A value with such a name somewhere: as a key that JSON brings, or in place of a text. */
function poisoned(value: unknown, draws: Draws): unknown {
	const name = draws.pick(HOSTILE);
	if (typeof value === 'string') return name;
	if (Array.isArray(value)) {
		if (value.length === 0) return [[name, 'x']];
		const at = draws.whole(0, value.length - 1);
		return value.map((entry, i) => (i === at ? poisoned(entry, draws) : (entry as unknown)));
	}
	if (typeof value !== 'object' || value === null) return value;
	const keys = Object.keys(value);
	if (keys.length > 0 && draws.chance(0.6)) {
		const key = draws.pick(keys);
		return { ...value, [key]: poisoned((value as Record<string, unknown>)[key], draws) };
	}
	const entries = [...Object.entries(value), [name, draws.pick(['x', {}, 1, null])]];
	// As `JSON.parse` makes it: a key of its own.
	return JSON.parse(
		`{${entries.map(([key, own]) => `${JSON.stringify(key)}:${JSON.stringify(own) ?? 'null'}`).join(',')}}`,
	);
}

function drawn(schema: unknown, draws: Draws): unknown {
	const value = drawFrom(asSchema(schema), draws, draws.chance(0.2) ? faultsOf(draws, 0.03, 2) : undefined);
	return draws.chance(0.15) ? poisoned(value, draws) : value;
}

/** What an address may ask the list for, near misses among it. */
function drawQuery(draws: Draws): string {
	const params = new URLSearchParams();
	const text = () => draws.pick([...HOSTILE, 'Family', 'B', '', '%', '1..2', 'x'.repeat(130)]);
	for (let i = draws.whole(0, 3); i > 0; i--) {
		const name = draws.pick([
			'why',
			'find',
			'label',
			'label',
			'method',
			'frequency',
			'mape',
			'sort',
			'down',
			'by',
			'from',
			'most',
			...HOSTILE,
		]);
		params.append(
			name,
			name === 'label' ? `${encodeURIComponent(text())}=${encodeURIComponent(text())}` : text(),
		);
	}
	return params.size > 0 ? `?${params}` : '';
}

const TABLES = [
	'month;pieces\n2024-01;4\n2024-02;5\n2024-03;\n2024-04;7',
	'1\n2\n3\n4\n5\n6\n7\n8',
	'item;period;figure\nx;2024-01;4\nx;2024-02;5\ny;2024-01;7\ny;2024-02;8',
	'[{"period":"2024-01","demand":4},{"period":"2024-02","demand":6}]',
	'a\nb\nc',
	'',
	'"',
	'9'.repeat(2000),
	';'.repeat(3000),
];

/**
 * A call of any route there is, near misses and addresses of nothing among them.
 * @param codes of items that are there
 * @param known what was seen of them, for calls that have to name it
 */
export function drawCall(
	seed: number,
	codes: readonly string[],
	known: (code: string) => Known | null,
): Call {
	const draws = drawsFrom(seed);
	const code = draws.chance(0.9)
		? draws.pick(codes)
		: draws.pick(['nobody', '%00', '..%2f', 'a%ff', '%ed%a0%80', 'x'.repeat(200)]);
	const item = `/items/${code.includes('%') ? code : encodeURIComponent(code)}`;
	/** A declared call with its places filled in. */
	const declared = (key: CallKey, query = '') => {
		const [method, path] = key.split(' ') as [string, string];
		const places = path.replace('/items/[code]', item).replace('[id]', String(draws.whole(0, 40)));
		return { method, path: places + query, answer: CALLS[key].gives };
	};
	const json = (key: CallKey, body: unknown): Call => ({
		...declared(key),
		body: JSON.stringify(body) ?? '',
		type: 'application/json',
	});
	const get = (key: CallKey, query?: string): Call => ({ ...declared(key, query), body: null, type: null });
	const takenBy = (key: CallKey) => {
		const { takes } = CALLS[key] as { takes?: v.GenericSchema };
		return drawn(takes, draws);
	};
	const there = known(code);
	const current = (body: unknown, keys: Record<string, unknown>) =>
		typeof body === 'object' && body !== null && there && draws.chance(0.7) ? { ...body, ...keys } : body;
	const table = draws.pick(TABLES);
	const withTable = (key: CallKey): Call => ({
		...declared(key),
		body: `${JSON.stringify(takenBy(key))}\n${table}`,
		type: 'application/octet-stream',
	});
	switch (draws.whole(0, 17)) {
		case 0:
		case 1:
		case 2:
			return json('POST /evaluate', drawRequest(seed));
		case 3:
			return get('GET /items/[code]');
		case 4:
			return draws.pick([
				get('GET /items'),
				get('GET /items/[code]/adopted'),
				get('GET /items/[code]/adopted', `?before=${draws.whole(0, 99)}`),
				get('GET /items/[code]/adopted/[id]'),
				get('GET /items/[code]/raw'),
				get('GET /items/[code]/grades'),
				get('GET /newest'),
				get('GET /health'),
				{ method: 'GET', path: '/nowhere', body: null, type: null, answer: null },
			]);
		case 5:
			return json(
				'POST /items/[code]/layers',
				current(takenBy('POST /items/[code]/layers'), { seen: there?.seenLayers }),
			);
		case 6:
			return json(
				'PUT /items/[code]/line-up',
				current(takenBy('PUT /items/[code]/line-up'), { version: there?.version }),
			);
		case 7:
			return json(
				'POST /items/[code]/adopted',
				current(takenBy('POST /items/[code]/adopted'), {
					seen: there?.seen,
					seenLayers: there?.seenLayers,
					seenRecord: there?.seenRecord,
					horizon: draws.whole(1, 24),
				}),
			);
		case 8: {
			const change = takenBy('PATCH /items/[code]');
			// Names change, codes stay: the next calls have to find them.
			const seen = { code, name: there?.name, unit: there?.unit, retired: false };
			return json('PATCH /items/[code]', current(change, { seen, code: undefined, retired: undefined }));
		}
		case 9:
			return json('POST /items', current(takenBy('POST /items'), { text: table }));
		case 10:
			return json('POST /bring-in/compare', takenBy('POST /bring-in/compare'));
		case 11:
			return withTable('POST /bring-in');
		case 12:
			return withTable('POST /bring-in/stream');
		case 13:
			return json(
				'POST /items/[code]/updated',
				current(takenBy('POST /items/[code]/updated'), {
					seen: there?.seen,
					seenLayers: there?.seenLayers,
				}),
			);
		case 14: {
			// Items stay on the list: the next calls have to find them.
			const body = takenBy('POST /several') as { change?: unknown } | null;
			const retires = /"retired"/.test(JSON.stringify(body?.change) ?? '');
			return json('POST /several', retires ? { ...body, items: { codes: ['nobody'] } } : body);
		}
		case 15:
			return draws.pick([
				json('PUT /views', takenBy('PUT /views')),
				json('POST /groups', takenBy('POST /groups')),
				json('POST /sweeps', takenBy('POST /sweeps')),
			]);
		case 16:
			return get(
				draws.pick(['GET /items', 'GET /places', 'GET /groups', 'GET /forecasts', 'GET /overview'] as const),
				drawQuery(draws),
			);
		default:
			return draws.chance(0.8)
				? json(
						'POST /items/[code]/hidden',
						current(takenBy('POST /items/[code]/hidden'), { seen: there?.seen }),
					)
				: json('PUT /watching', takenBy('PUT /watching'));
	}
}

/** What an answer says that it must not; null where it is as it should be. */
export function faultOf(call: Call, status: number, text: string): string | null {
	if (status >= 500 && status !== 503) return `status ${status}: ${text.slice(0, 200)}`;
	if (call.path.endsWith('/raw') && status === 200) return null;
	if (call.path.endsWith('/stream') && status === 200) return null;
	let body: unknown;
	try {
		body = JSON.parse(text);
	} catch {
		return `no JSON: ${text.slice(0, 200)}`;
	}
	const schema = status >= 400 ? RefusalSchema : call.answer;
	const issue = schema && v.safeParse(schema, body).issues?.[0];
	return issue ? `${v.getDotPath(issue)}: ${issue.message}` : null;
}
