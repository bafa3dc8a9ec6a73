import { By, Key } from 'selenium-webdriver';
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { HappenedWindow } from '../../src/lib/wire/access';
import type { Item } from '../../src/lib/wire/items';
import { type App, until } from '../support/app';
import { makeDatabase, type TestDatabase } from '../support/database';
import { openPage, type Page } from '../support/page';
import { earlyInStep, invited, makePerson, PASSWORD, type Signed, startForPeople } from '../support/people';

/** Several people at one application, each in a browser of their own. */

let database: TestDatabase;
let app: App;
let annas: Page;
let bens: Page;
let ben: Signed;

const CODES = Array.from({ length: 20 }, (_, i) => `P-${10 + i}`);

beforeAll(async () => {
	database = await makeDatabase();
	app = await startForPeople(database);
	annas = await openPage(app);
	bens = await openPage(app);
});
afterAll(async () => {
	await annas?.close();
	await bens?.close();
	await app?.stop();
	await database?.drop();
});

/** Chooses a password by a link, as whoever was given it does. */
async function join(page: Page, link: string): Promise<void> {
	await page.driver.get(link);
	await page.fill('[data-new-password]', PASSWORD);
	await page.fill('[data-new-password-again]', PASSWORD);
	await page.press('Save and sign in');
	await page.reads('[data-account]', /·/);
}

async function signInAs(page: Page, name: string, code = ''): Promise<void> {
	await page.fill('main input[autocomplete="username"]', name);
	await page.fill('main input[type="password"]', PASSWORD);
	if (code) await page.fill('main input[inputmode="numeric"]', code);
	await page.press('Sign in', 'main');
}

test('before anybody was invited every address leads to a page that says how', async () => {
	await annas.open('/items/P-10');
	expect(await annas.text('main')).toContain('npm run person -- add "Your name" --role manage');
	await annas.expectAccessible();
});

test('the first person comes by a link, which shows nothing of itself afterwards and is good once', async () => {
	const key = await invited(database, 'Anna', 'manage');
	await annas.driver.get(`${app.url}/invited#${key}`);
	await annas.find('[data-new-password]');
	expect(await annas.driver.getCurrentUrl()).toBe(`${app.url}/invited`);
	await annas.fill('[data-new-password]', 'passwordpassword');
	await annas.fill('[data-new-password-again]', 'passwordpassword');
	await annas.press('Save and sign in');
	await annas.reads('[role="alert"]', /pattern|common/);
	await annas.expectAccessible();
	const typed = await annas.find('[data-new-password]');
	expect(await typed.getAttribute('type')).toBe('password');
	await annas.press('Show what is typed');
	expect(await typed.getAttribute('type')).toBe('text');
	await annas.fill('[data-new-password]', PASSWORD);
	await annas.fill('[data-new-password-again]', PASSWORD);
	await annas.press('Save and sign in');
	await annas.reads('[data-account]', /^Anna · /);
	await bens.driver.get(`${app.url}/invited#${key}`);
	await bens.fill('[data-new-password]', PASSWORD);
	await bens.fill('[data-new-password-again]', PASSWORD);
	await bens.press('Save and sign in');
	await bens.reads('[role="alert"]', /This link was used/);
});

test('she invites another one, who joins by the link that is shown once', async () => {
	await annas.open('/people');
	await annas.expectAccessible();
	await annas.fill('[data-person-name]', 'Ben');
	await annas.press('Invite');
	const link = await annas.reads('[data-shown-once] code', /\/invited#/);
	await annas.reads('[data-person="Ben"]', /has not chosen a password yet/);
	await annas.press('done');
	await join(bens, link);
	await bens.reads('[data-account]', /^Ben · /);
	await annas.open('/people');
	await annas.reads('[data-person="Ben"]', /no second factor, last here/);
	await bens.open('/items');
	expect(await bens.driver.findElements(By.css('a[href="/people"]'))).toHaveLength(0);
});

test('she switches a second factor on, and signs in with its code', async () => {
	await annas.open('/account');
	await annas.press('Switch it on…');
	const secret = (await annas.reads('[data-secret]', /\w{4} \w{4}/)).replace(/\s/g, '');
	await annas.expectAccessible();
	const totp = new TOTP({ secret: Secret.fromBase32(secret) });
	await earlyInStep();
	await annas.fill('[data-code]', totp.generate({ timestamp: Date.now() - 30_000 }));
	await annas.press('Switch it on');
	await annas.reads('[aria-label="Second factor"]', /It is on/);
	await annas.press(await annas.text('[data-account]'));
	await annas.press('Sign out');
	await annas.reads('h1', /Sign in to Ventrel/);
	await signInAs(annas, 'Anna');
	await annas.reads('[role="alert"]', /Name, password or code is not right/);
	await signInAs(annas, 'Anna', totp.generate());
	await annas.reads('[data-account]', /^Anna · /);
});

describe('three roles at the same item', () => {
	beforeAll(async () => {
		ben = await makePerson(database, app, 'Lena', 'work');
		for (const code of CODES) {
			const text = Array.from({ length: 30 }, (_, i) => 100 + ((i * 13) % 17)).join('\n');
			await ben.call('POST', '/items', { code, name: `Pannier ${code}`, text });
			await ben.call('PUT', `/items/${code}/line-up`, {
				version: 0,
				candidates: [
					{ id: 'a', method: 'naive' },
					{ id: 'c', method: 'ses', constants: { alpha: 0.3 } },
				],
			});
		}
	});
	const load = async (code: string) => (await ben.call<Item>('GET', `/items/${code}`)).body;

	test('who looks tries everything, saves nothing, and is told whom to ask', async () => {
		const looks = await openPage(app);
		try {
			await join(looks, `${app.url}/invited#${await invited(database, 'Cleo', 'look')}`);
			await looks.reads('[data-not-allowed]', /Entering figures, sweeping and adopting: for the role “work”/);
			await looks.open('/items/P-10?view=ahead&candidate=c');
			await looks.reads('[data-ahead="1"]', /\d/);
			await looks.reads('[data-saving]', /not saved/);
			const told = await looks.find('[aria-label="Status"] [data-not-allowed]');
			await looks.driver.executeScript('arguments[0].focus()', told);
			await looks.reads('[role="tooltip"]', /Yours is “look”.*Ask someone who manages: Anna/);
			await looks.expectAccessible();
			const before = await looks.text('[data-ahead="1"]');
			const dial = await looks.find('[data-candidate="c"] [type="range"]');
			await dial.click();
			await looks.keys(Key.HOME, ...new Array<string>(60).fill(Key.ARROW_RIGHT));
			await looks.reads('[data-candidate="c"]', /0\.60/);
			await until(async () => (await looks.text('[data-ahead="1"]')) !== before, 'the forecast to move');
			await looks.keys('a');
			await looks.keys('p');
			for (const path of ['/groups', '/sweeps', '/bring-in', '/hand-over', '/happened', '/account']) {
				await looks.open(path);
				await looks.expectAccessible();
			}
			expect(await looks.complaints()).toEqual([]);
			await looks.driver.get(`${app.url}/people`);
			await looks.reads('h1', /for the role “manage”. Yours is “look”.*Ask someone who manages: Anna/);
		} finally {
			await looks.close();
		}
		const item = await load('P-10');
		expect(item.lineUp.candidates.find(({ id }) => id === 'c')!.constants).toEqual({ alpha: 0.3 });
		expect([item.adoptedCount, item.status!.hidden]).toEqual([0, null]);
	});

	test('who works adopts under their own name, and who manages sees that, with what was refused', async () => {
		await bens.open('/items/P-10?view=ahead&candidate=c');
		await bens.reads('[data-ahead="1"]', /\d/);
		await bens.press('Adopt for 10 ahead');
		await bens.reads('[data-adopted]', /by Ben/);
		await annas.open('/items/P-10?view=ahead');
		await annas.reads('[data-adopted]', /by Ben/);
		await annas.open('/happened');
		await annas.reads('[data-happened]', /Ben adopted a forecast for P-10/);
		await annas.expectAccessible();
		await annas.choose('[aria-label="What it is about"]', 'refused');
		await annas.reads('[data-happened]', /Cleo was refused: GET \/people/);
		await annas.reads('[data-happened]', /Somebody failed to sign in as Anna/);
	});

	test('a session that ends while its page is open asks to sign in there, and nothing on the page is lost', async () => {
		await bens.open('/items/P-11?view=signal&candidate=c');
		await bens.reads('[data-saving]', /^saved$/);
		await database.client.query(
			`UPDATE session SET ended_at = now() FROM actor WHERE actor.id = actor_id AND name = 'Ben' AND session.ended_at IS NULL`,
		);
		// The page may ask before or after this: a pointer would find its dial covered when it asked before.
		await bens.driver.executeScript(
			`const dial = document.querySelector('[data-candidate="c"] [type="range"]'); dial.value = '0.42'; for (const kind of ['input', 'change']) dial.dispatchEvent(new Event(kind, { bubbles: true }))`,
		);
		await bens.find('[data-proof="sign in"]');
		await bens.expectAccessible();
		await bens.fill('#proof-password', PASSWORD);
		await bens.press('Sign in', '[data-proof]');
		await bens.reads('[data-saving]', /^saved$/);
		await bens.reads('[data-candidate="c"]', /0\.42/);
		await until(
			async () =>
				(await load('P-11')).lineUp.candidates.find(({ id }) => id === 'c')!.constants!.alpha === 0.42,
			'the dial to be saved',
		);
	});

	test('a list of sweeps that is open while its session ends asks as well', async () => {
		await bens.open('/sweeps');
		await database.client.query(
			`UPDATE session SET ended_at = now() FROM actor WHERE actor.id = actor_id AND name = 'Ben' AND session.ended_at IS NULL`,
		);
		await bens.find('[data-proof="sign in"]');
		await bens.fill('#proof-password', PASSWORD);
		await bens.press('Sign in', '[data-proof]');
		await until(
			async () => (await bens.driver.findElements(By.css('[data-proof="sign in"]'))).length === 0,
			'the page again',
		);
	});

	test('two people at twenty items at once: every forecast is under the name of who adopted it', async () => {
		await annas.open('/items');
		const adoptAll = async (page: Page, name: string, codes: readonly string[]) => {
			for (const code of codes)
				await until(async () => {
					await page.open(`/items/${code}?view=ahead&candidate=a`);
					await page.reads('[data-ahead="1"]', /\d/);
					await page.press('Adopt for 10 ahead');
					// Where the other one was first, it is looked at again.
					const said = await page.reads('main', new RegExp(`by ${name}|Check it again|since you opened it`));
					return said.includes(`by ${name}`);
				}, `${name} to adopt for ${code}`);
		};
		await Promise.all([adoptAll(annas, 'Anna', CODES), adoptAll(bens, 'Ben', [...CODES].reverse())]);
		for (const code of CODES) {
			const { body } = await ben.call<{ adoptedBy: string }[]>('GET', `/items/${code}/adopted`);
			const by = body.map(({ adoptedBy }) => adoptedBy);
			expect([
				code,
				by.filter((each) => each === 'Anna').length >= 1,
				by.filter((each) => each === 'Ben').length >= 1,
			]).toEqual([code, true, true]);
			expect(by.every((each) => each === 'Anna' || each === 'Ben')).toBe(true);
		}
	});
});

test('who has access is changed only after the password was given lately, and the change goes on then', async () => {
	await annas.open('/people');
	await database.client.query('ALTER TABLE session DISABLE TRIGGER session_is_recorded');
	await database.client.query(`UPDATE session SET proved_at = now() - interval '11 minutes'`);
	await database.client.query('ALTER TABLE session ENABLE TRIGGER session_is_recorded');
	await database.client.query('UPDATE person_proof SET second_factor = NULL');
	await annas.choose('[aria-label="Role of Lena"]', 'look');
	await annas.find('[data-proof="password"]');
	await annas.expectAccessible();
	await annas.fill('#proof-password', 'not the right one');
	await annas.press('Go on');
	await annas.reads('[data-proof] [role="alert"]', /password is not right/);
	await annas.fill('#proof-password', PASSWORD);
	await annas.press('Go on');
	await until(async () => (await ben.call('GET', '/me')).status === 401, 'the role to be changed');
	const { rows } = await database.client.query(`SELECT role FROM actor WHERE name = 'Lena'`);
	expect(rows[0].role).toBe('look');
});

test('a token is made, used by a program, and no longer good once it is revoked', async () => {
	await annas.open('/people');
	await annas.fill('[data-token-name]', 'Stock planning');
	await annas.press('Make a token');
	const token = await annas.reads('[data-shown-once] code', /^ventrel_/);
	const asks = () => fetch(`${app.url}/api/v1/items`, { headers: { authorization: `Bearer ${token}` } });
	expect((await asks()).status).toBe(200);
	await annas.open('/people');
	await annas.reads('[data-token="Stock planning"]', /last used/);
	expect(await annas.driver.getPageSource()).not.toContain(token);
	await annas.press('revoke');
	await until(async () => (await asks()).status === 401, 'the token to be revoked');
});

test('who leaves is shown the way out at once, and what they did stays under their name', async () => {
	await annas.open('/people');
	await annas.press('end access…', '[data-person="Ben"]');
	await annas.press('end access', '[data-person="Ben"]');
	await until(
		async () => (await annas.driver.findElements(By.css('[data-person="Ben"]'))).length === 0,
		'Ben to leave',
	);
	await bens.driver.get(`${app.url}/items`);
	await bens.reads('h1', /Sign in to Ventrel/);
	const { rows } = await database.client.query(
		`SELECT count(*)::integer AS records FROM adopted_forecast WHERE actor_name(adopted_by) = 'Ben'`,
	);
	expect(rows[0].records).toBeGreaterThanOrEqual(20);
	const by = await annas.driver.executeAsyncScript<HappenedWindow>(
		`const done = arguments[0]; fetch('/api/v1/happened?about=access').then((answer) => answer.json()).then(done);`,
	);
	expect(by.events.find(({ kind }) => kind === 'left')).toMatchObject({ by: 'Anna', whom: 'Ben' });
	// What was refused on purpose is all that the console tells of.
	const other = (await annas.complaints()).filter((each) => !/responded with a status of 4/.test(each));
	expect(other).toEqual([]);
});
