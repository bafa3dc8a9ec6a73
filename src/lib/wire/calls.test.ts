import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { type Call, CALLS } from './calls';
import { paramSays } from './query';

const declared = Object.entries(CALLS) as [string, Call][];

/** More keys than these are not listed inside another list. */
const LISTED = 6;

interface Described {
	type: string;
	entries?: Record<string, Described>;
	item?: Described;
	wrapped?: Described;
}

/** A schema's keys as the documentation has them: `{ code, name, unit?, seen: { code } }`, a list of such in square brackets. */
function shapeOf(schema: Described): string {
	if (schema.item) return `[${shapeOf(schema.item)}]`;
	const keys = Object.entries(schema.entries ?? {}).map(([key, entry]) => {
		const inside = entry.wrapped ?? entry;
		const listed = Object.keys((inside.item ?? inside).entries ?? {}).length;
		const said = /optional|nullish/.test(entry.type) ? `${key}?` : key;
		return listed > 0 && listed <= LISTED ? `${said}: ${shapeOf(inside)}` : said;
	});
	return `{ ${keys.join(', ')} }`;
}

const WHO = { anyone: 'anyone', look: 'who looks', work: 'who works', manage: 'who manages' } as const;

/** `docs/calls.md`. */
function documented(): string {
	const rows = declared.map(([key, call]) => {
		const { takes, gives, does, who, query, refuses = [] } = call;
		const [method, path] = key.split(' ') as [string, string];
		const place = path.replace('[code]', 'CODE').replace('[id]', 'ID');
		const evaluates = key === 'POST /evaluate';
		const said = [
			query && `asks \`${Object.keys(query.params).join(' ')}\``,
			takes && !evaluates && `takes \`${shapeOf(takes as unknown as Described)}\``,
			gives && !evaluates && `gives \`${shapeOf(gives as unknown as Described)}\``,
			refuses.length > 0 && `refuses with ${refuses.join(', ')}`,
		]
			.filter(Boolean)
			.join('; ');
		return `| \`${method} /api/v1${place}\` | ${WHO[who]} | ${does}${said && `. ${said[0]!.toUpperCase()}${said.slice(1)}`} |`;
	});
	const asked = new Map<string, { name: string; params: string; of: string[] }>();
	for (const [key, { query }] of declared)
		for (const [name, param] of Object.entries(query?.params ?? {})) {
			const says = paramSays(param);
			const one = asked.get(`${name} ${says}`) ?? { name, params: says, of: [] };
			asked.set(`${name} ${says}`, { ...one, of: [...one.of, key.split(' ')[1]!] });
		}
	return [
		'# Calls',
		'',
		'Each call of the HTTP interface as it is declared in `src/lib/wire/calls.ts`; written by `npm run docs`, held by a test. [http.md](http.md) says what holds for all of them: every call may be refused with 413, 415, 422 and 503.',
		'',
		'| call | for | what it does |',
		'|---|---|---|',
		...rows,
		'',
		'## Behind the question mark',
		'',
		'Names that may be there, and what each may be; in brackets what screens call it.',
		'',
		...[...asked.values()].map(
			({ name, params, of }) => `- \`${name}\` of ${of.map((path) => `\`${path}\``).join(', ')}: ${params}`,
		),
		'',
	].join('\n');
}

test('the documentation lists every call as it is declared', async () => {
	await expect(documented()).toMatchFileSnapshot('../../../docs/calls.md');
});

test('every call that is declared is answered, and none that is not', () => {
	const ROOT = 'src/routes/api/v1';
	const routes = readdirSync(ROOT, { recursive: true, encoding: 'utf8' }).filter((file) =>
		file.endsWith('+server.ts'),
	);
	const answered = routes.flatMap((file) =>
		[
			...readFileSync(join(ROOT, file), 'utf8').matchAll(
				/export const (GET|POST|PUT|PATCH|DELETE) = (?:answering|route)\(\s*'([^']+)'/g,
			),
		].map(([, method, key]) => {
			const own = `${method} /${file.replace(/\/?\+server\.ts$/, '')}`;
			expect(key).toBe(own);
			return own;
		}),
	);
	expect(answered.sort()).toEqual(declared.map(([key]) => key).sort());
});
