/** The HTTP interface as OpenAPI 3.1 describes one, made from the calls as they are declared. */
import { toJsonSchema } from '@valibot/to-json-schema';
import type * as v from 'valibot';
import { type Call, CALLS } from './calls';
import { paramSays } from './query';
import { PROBLEM, RefusalSchema } from './service';

/** What any call may be refused with. */
export const ANY_REFUSAL = [401, 403, 413, 415, 422, 429, 499, 500, 503] as const;

const REFUSALS: Readonly<Record<number, string>> = {
	401: 'Nobody is signed in, or the token is no longer good.',
	403: 'It is not for the role of who asks, or another site asks.',
	404: 'What it names is not there.',
	409: 'Something came in between, or is there already; the answer says what.',
	422: 'What was sent is not as the call takes it; each issue has its path.',
	429: 'Too often, or too much at once; `retry-after` says after how many seconds to try again.',
	503: 'Not just now; `retry-after` says after how many seconds to try again.',
};

/** Rules that JSON Schema has no word for (plain text, order, sums of lengths) are left out: the server refuses by them in words. */
const schemaOf = (schema: v.GenericSchema, typeMode: 'input' | 'output'): object => {
	const described = toJsonSchema(schema, { typeMode, errorMode: 'ignore', target: 'draft-2020-12' });
	// The document says for all of them which dialect they are in.
	delete described.$schema;
	return described;
};

const answer = (description: string, type: string, schema?: object) => ({
	description,
	content: { [type]: { ...(schema && { schema }) } },
});

const ONCE = {
	name: 'Idempotency-Key',
	in: 'header',
	description:
		'A key of the caller’s own: asked again under it, the same is answered, and nothing is done twice.',
	schema: { type: 'string', minLength: 1, maxLength: 255 },
};

/** `POST /items/[code]/line-up` as `postItemsCodeLineUp`. */
const nameOf = (key: string) =>
	key
		.toLowerCase()
		.split(/[^a-z]+/)
		.filter(Boolean)
		.map((part, i) => (i === 0 ? part : part[0]!.toUpperCase() + part.slice(1)))
		.join('');

function operation(key: string, call: Call) {
	const {
		takes,
		gives,
		query,
		file,
		refuses = [],
		also = [],
		status = 200,
		type = 'application/json',
	} = call;
	const inPath = [...key.matchAll(/\[(\w+)\]/g)].map(([, name]) => ({
		name,
		in: 'path',
		required: true,
		schema: name === 'id' ? { type: 'integer', minimum: 0 } : { type: 'string' },
	}));
	const inQuery = Object.entries(query?.params ?? {}).map(([name, param]) => {
		const { of, many } = param;
		const one = { type: 'string', ...(of && { enum: [...of] }) };
		return {
			name,
			in: 'query',
			description: paramSays(param),
			schema: many ? { type: 'array', items: one } : one,
		};
	});
	const given = answer(call.does, type, gives ? schemaOf(gives, 'output') : undefined);
	return {
		operationId: nameOf(key),
		summary: call.does,
		tags: [key.split('/')[1]!],
		'x-who': call.who,
		...(call.who === 'anyone' && { security: [] }),
		parameters: [...inPath, ...inQuery, ...(call.once ? [ONCE] : [])],
		...(takes && {
			requestBody: {
				required: true,
				...(file && { description: 'A line of JSON by this schema, and after it the file byte for byte.' }),
				content: {
					[file ? 'application/octet-stream' : 'application/json']: { schema: schemaOf(takes, 'input') },
				},
			},
		}),
		responses: {
			[status]: given,
			...Object.fromEntries(also.map((other) => [other, given])),
			...Object.fromEntries(
				[...(call.who === 'anyone' ? [] : [401, 403]), ...refuses, 422, 429, 503]
					.filter((refused) => !also.includes(refused as never))
					.map((refused) => [refused, { $ref: `#/components/responses/${refused}` }]),
			),
			default: { $ref: '#/components/responses/refused' },
		},
	};
}

/** @param version of the program */
export function openApi(version: string): object {
	const paths: Record<string, Record<string, object>> = {};
	for (const [key, call] of Object.entries(CALLS) as [string, Call][]) {
		const [method, path] = key.split(' ') as [string, string];
		(paths[path.replace(/\[(\w+)\]/g, '{$1}')] ??= {})[method.toLowerCase()] = operation(key, call);
	}
	const refusal = { $ref: '#/components/schemas/Refusal' };
	return {
		openapi: '3.1.0',
		jsonSchemaDialect: 'https://json-schema.org/draft/2020-12/schema',
		info: { title: 'Ventrel', version, description: 'Forecasts of item demand, adopted and watched.' },
		servers: [{ url: '/api/v1' }],
		security: [{ token: [] }, { session: [] }],
		paths,
		components: {
			securitySchemes: {
				token: { type: 'http', scheme: 'bearer', description: 'Made under People, for programs.' },
				session: { type: 'apiKey', in: 'cookie', name: 'ventrel_session' },
			},
			schemas: { Refusal: schemaOf(RefusalSchema, 'output') },
			responses: {
				...Object.fromEntries(
					Object.entries(REFUSALS).map(([status, says]) => [status, answer(says, PROBLEM, refusal)]),
				),
				refused: answer('Refused, or failed; the message says why.', PROBLEM, refusal),
			},
		},
	};
}
