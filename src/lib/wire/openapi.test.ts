import { Validator } from '@seriousme/openapi-schema-validator';
import { expect, test } from 'vitest';
import { CALLS } from './calls';
import { openApi } from './openapi';

interface Described {
	paths: Record<
		string,
		Record<string, { operationId: string; responses: object; parameters: { name: string }[] }>
	>;
}
const described = openApi('0.0.0') as unknown as Described;
const operations = Object.entries(described.paths).flatMap(([path, of]) =>
	Object.entries(of).map(([method, operation]) => ({ key: `${method.toUpperCase()} ${path}`, ...operation })),
);

test('it is valid OpenAPI 3.1, by a validator of the standard', async () => {
	const validator = new Validator();
	expect(await validator.validate(structuredClone(openApi('0.0.0')) as Record<string, unknown>)).toEqual({
		valid: true,
	});
	expect(validator.version).toBe('3.1');
});

test('every call is described once, with its places and its queries', () => {
	const keys = Object.keys(CALLS).map((key) => key.replace(/\[(\w+)\]/g, '{$1}'));
	expect(operations.map(({ key }) => key).sort()).toEqual(keys.sort());
	expect(new Set(operations.map(({ operationId }) => operationId)).size).toBe(keys.length);
	const { parameters, responses } = operations.find(({ key }) => key === 'GET /sweeps/{id}/rows')!;
	expect(parameters.map(({ name }) => name)).toEqual(
		expect.arrayContaining(['id', 'show', 'find', 'sort', 'up', 'from', 'most']),
	);
	expect(Object.keys(responses)).toEqual(expect.arrayContaining(['200', '404', '422', '503', 'default']));
});
