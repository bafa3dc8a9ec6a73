import { Ajv2020 } from 'ajv/dist/2020.js';
import { ANY_REFUSAL, openApi } from '../../src/lib/wire/openapi';

interface Response {
	$ref?: string;
	content?: Record<string, { schema?: object }>;
}
interface Described {
	paths: Record<string, Record<string, { responses: Record<string, Response> }>>;
	components: { schemas: { Refusal: object } };
}
const described = openApi('0.0.0') as Described;
const ajv = new Ajv2020({ strict: false, validateFormats: false });
const refusal = ajv.compile(described.components.schemas.Refusal);
const PATHS = Object.keys(described.paths).map((path) => ({
	path,
	pattern: new RegExp(`^${path.replace(/[.*+?^$()|[\]\\]/g, '\\$&').replace(/\{\w+\}/g, '[^/]+')}$`),
}));
const compiled = new Map<string, ReturnType<typeof ajv.compile> | null>();

/** Holds an answer against what OpenAPI says of its call. @throws where it is not as described */
export function holdAnswer(method: string, address: string, status: number, body: unknown): void {
	const asked = address.split('?')[0]!;
	const path = PATHS.find(({ pattern }) => pattern.test(asked))?.path;
	const operation = path && described.paths[path]![method.toLowerCase()];
	if (!operation) return;
	const where = `${method} ${path} ${status}`;
	const declared = operation.responses[status];
	if (!declared && !(ANY_REFUSAL as readonly number[]).includes(status))
		throw new Error(`${where}: a status that is not described`);
	if (!compiled.has(where)) {
		const schema = declared?.content?.['application/json']?.schema;
		compiled.set(where, !declared || declared.$ref ? refusal : schema ? ajv.compile(schema) : null);
	}
	const valid = compiled.get(where);
	if (valid && !valid(body)) throw new Error(`${where}: ${ajv.errorsText(valid.errors)}`);
}
