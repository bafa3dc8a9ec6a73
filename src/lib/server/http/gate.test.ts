import { describe, expect, test, vi } from 'vitest';
import { CALLS } from '../../wire/calls';
import { PAGES } from '../../wire/pages';
import { addressOf, declaredFor } from './gate';

const headers = (forwarded: string) => new Headers({ 'x-forwarded-for': forwarded });

describe('where a request comes from', () => {
	test('is what the connection says, unless it is of the proxy that is named', () => {
		expect(addressOf(headers('10.0.0.1'), '127.0.0.1')).toBe('127.0.0.1');
		vi.stubEnv('VENTREL_PROXY', '127.0.0.1');
		expect(addressOf(headers('10.0.0.1'), '127.0.0.1')).toBe('10.0.0.1');
		expect(addressOf(headers('10.0.0.1'), '::ffff:127.0.0.1')).toBe('10.0.0.1');
		expect(addressOf(headers('10.0.0.1'), '192.168.0.9')).toBe('192.168.0.9');
	});

	test('of what was forwarded the last is believed, which the proxy wrote, and nothing that is no address', () => {
		vi.stubEnv('VENTREL_PROXY', '127.0.0.1');
		expect(addressOf(headers('6.6.6.6, 10.0.0.2'), '127.0.0.1')).toBe('10.0.0.2');
		expect(addressOf(headers('10.0.0.2, <script>'), '127.0.0.1')).toBe('127.0.0.1');
		expect(addressOf(headers(''), '127.0.0.1')).toBe('127.0.0.1');
	});
});

describe('whom a route is for', () => {
	test('stands in its declaration, of every call and every page', () => {
		for (const [key, { who }] of Object.entries(CALLS)) {
			const [method, path] = key.split(' ') as [string, string];
			expect(declaredFor(`/api/v1${path}`, method)?.who).toBe(who);
		}
		for (const [route, who] of Object.entries(PAGES)) expect(declaredFor(route, 'GET')).toEqual({ who });
	});

	test('is nobody where nothing is declared', () => {
		for (const [route, method] of [
			['/api/v1/items', 'DELETE'],
			['/api/v1/constructor', 'GET'],
			['/nowhere', 'GET'],
			['/constructor', 'GET'],
			[null, 'GET'],
		] as const)
			expect(declaredFor(route, method)).toBeNull();
	});
});
