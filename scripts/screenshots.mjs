// npm run screenshots: the current picture of every main view, from the demo data, into docs/screenshots.
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { preparePackages, ROOT } from './lib/prepare.mjs';
import { run } from './lib/run.mjs';
import { fail, say } from './lib/say.mjs';
import { serveForAWhile } from './lib/served.mjs';

const HOME = join(ROOT, 'docs', 'screenshots');

/**
 * Each view: its file, its address, what is done there first, and whether it is taken in the dark.
 * @type {{ file: string, path: string, act?: string[], dark?: boolean }[]}
 */
const VIEWS = [
	{ file: 'items', path: '/items', act: ['counted'] },
	{ file: 'bring-in', path: '/bring-in', act: ['paste'] },
	{ file: 'bring-in-many', path: '/bring-in', act: ['pasteMany'] },
	{ file: 'item-demand', path: '/items/50-210?view=demand&candidate=c', act: ['adjust'] },
	{ file: 'item-season', path: '/items/60-014?view=season&candidate=d' },
	{ file: 'item-record', path: '/items/10-240?view=record', act: ['laid'], dark: true },
	{ file: 'season-indices', path: '/items/99-010?view=season&candidate=d', act: ['holdIndex'] },
	{ file: 'hand-over', path: '/hand-over' },
	{ file: 'item-constants', path: '/items/60-014?view=constants&candidate=d' },
	{ file: 'item-working', path: '/items/60-014?view=working&candidate=d', act: ['point'] },
	{ file: 'item-signal', path: '/items/30-115?view=signal&candidate=d' },
	{ file: 'item-ahead', path: '/items/40-051?view=ahead&candidate=e', act: ['byHand'] },
	{ file: 'item-proposal', path: '/items/70-214?view=ahead', act: ['propose'] },
	{ file: 'item-trial', path: '/items/60-014?view=trial&candidate=d', act: ['tried'], dark: true },
	{ file: 'sweep', path: '/items', act: ['sweep'] },
	{ file: 'groups', path: '/groups?by=Family', act: ['grouped'] },
	{ file: 'group-as-one', path: '/groups?by=Family', act: ['asOne'] },
];

/** Those of people, served to people who sign in. @type {typeof VIEWS} */
const OF_PEOPLE = [
	{ file: 'people', path: '/people', act: ['invited'] },
	{ file: 'happened', path: '/happened' },
];

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const demand = (/** @type {number} */ item, /** @type {number} */ t) =>
	Math.round(
		(160 + 55 * item) * (1 + 0.22 * Math.sin((t - 2 - item) / 1.91)) + ((t * 37 + item * 11) % 23) + t,
	);

const PASTE = [
	'Bar tape, cork: demand by year',
	'',
	`\t${MONTHS.join('\t')}\tTotal`,
	...[2023, 2024, 2025].map((year, y) => {
		const figures = MONTHS.map((_, m) => demand(1, 12 * y + m));
		return `${year}\t${figures.join('\t')}\t${figures.reduce((a, b) => a + b)}`;
	}),
	'',
	'* 2025 as counted by hand',
].join('\n');

const PARTS = [
	'Inner tube 28 × 40',
	'Bell, brass',
	'Bell, steel',
	'Basket, wire',
	'Basket, cane',
	'Stand, rear',
	'Stand, twin',
	'Mudguard set',
];
const CODES = ['10-101', ...PARTS.slice(1).map((_, i) => `97-${110 + 5 * i}`)];
/**
 * Items down and months across: what is kept of the first one, two months more and one figure that differs, and new ones.
 * @param {number[]} kept
 */
function manyItems(kept) {
	const months = Array.from(
		{ length: 26 },
		(_, t) => `${String(((t + 10) % 12) + 1).padStart(2, '0')}/${2024 + Math.floor((t + 10) / 12)}`,
	);
	const first = [...kept.slice(-24), 2475, 2390].map((value, t) => (t === 20 ? value - 240 : value));
	const rows = PARTS.map((name, i) => {
		const figures =
			i === 0
				? first
				: months.map((_, t) => (i === 3 && t === 9 ? 'n/a' : i === 5 && t === 4 ? 'many' : demand(i, t)));
		return [CODES[i], name, ...figures].join(';');
	});
	return [
		['Code', 'Description', ...months].join(';'),
		...rows,
		['Total', '', ...months.map((_, t) => 9000 + t)].join(';'),
	].join('\n');
}

/** @type {Record<string, (driver: import('selenium-webdriver').WebDriver) => Promise<unknown>>} */
const ACTS = {
	paste: async (driver) => {
		await pasteText(driver, PASTE);
		await appears(driver, 'return document.querySelector("[data-reading-result]") !== null');
		await driver.executeScript(
			`const put = (field, value) => { field.focus(); field.select(); document.execCommand('insertText', false, value); };
			const [code, name, unit] = document.querySelectorAll('form#bring-in input');
			put(code, '90-310'); put(name, 'Bar tape, cork'); put(unit, 'rolls'); unit.blur();`,
		);
	},
	pasteMany: async (driver) => {
		const kept = await driver.executeAsyncScript(
			`const [done] = arguments; fetch('/api/v1/items/10-101').then((answer) => answer.json()).then((item) => done(item.series.values));`,
		);
		await pasteText(driver, manyItems(/** @type {number[]} */ (kept)));
		await appears(driver, 'return document.querySelector("[data-comparison]") !== null');
	},
	adjust: async (driver) => {
		await driver.executeScript(
			`const set = (label, value) => { const field = document.querySelector('[aria-label="' + label + '"]'); field.value = value; for (const type of ['input', 'change']) field.dispatchEvent(new Event(type, { bubbles: true })); };
			set('What missing figures become', 'interpolate');
			set('Figure of Aug 2026', '233'); set('Event in Jul 2026', 'trade fair'); set('Figure of Nov 2026', '214');
			document.querySelector('[aria-label="Leave out Jun 2026"]').click();`,
		);
		await appears(driver, 'return /event/.test(document.querySelector("[data-legend]")?.textContent ?? "")');
		await driver.executeScript(
			`document.querySelector('section[aria-label="Strip"] [role="group"]').blur();`,
		);
	},
	laid: async (driver) => {
		await appears(driver, 'return document.querySelector("[data-grade]") !== null');
		const press = (/** @type {string} */ where, /** @type {string} */ text) =>
			driver.executeScript(
				`[...document.querySelectorAll(arguments[0] + ' button')].find((b) => b.textContent.trim().startsWith(arguments[1])).click();`,
				where,
				text,
			);
		await press('#bench-view', 'adopted (');
		await press('[data-record]:nth-child(10)', 'on the strip');
		await appears(driver, 'return document.querySelector("[data-reading=record]") !== null');
		await press('#bench-view', 'period by period');
	},
	byHand: async (driver) => {
		await appears(driver, 'return document.querySelector("[data-ahead]") !== null');
		await driver.executeScript(
			`const type = (label, text) => { const field = document.querySelector('[aria-label="' + label + '"]'); field.focus(); field.select(); document.execCommand('insertText', false, text); field.blur(); };
			type('Final forecast for Dec 2026', '420'); type('Final forecast for Jan 2027', '380');`,
		);
		await appears(driver, 'return document.querySelector("[data-unexplained]") !== null');
		await driver.executeScript(
			`const why = document.querySelector('[aria-label="Why figures are changed"]'); why.focus(); document.execCommand('insertText', false, 'the dark months, as every year'); why.form.requestSubmit(); why.blur();`,
		);
		await appears(driver, 'return document.querySelector("[data-unexplained]") === null');
	},
	holdIndex: async (driver) => {
		await appears(driver, 'return document.querySelectorAll("[data-index]").length === 4');
		await driver.executeScript(
			`const bar = document.querySelector('[role="slider"][aria-label^="Index of Q2"]');
			for (let i = 0; i < 2; i++) bar.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }));`,
		);
		await appears(driver, 'return document.querySelector("[aria-label^=\'Index of Q2, fixed\']") !== null');
		await driver.executeScript(`document.querySelector('[data-cell="3 1"]').focus();`);
	},
	point: (driver) =>
		driver.executeScript(`const cell = document.querySelector('[data-working="level 58"]'); cell.focus();`),
	propose: async (driver) => {
		await driver.executeScript(
			`[...document.querySelectorAll('button')].find((b) => b.textContent.trim() === 'Propose').click();`,
		);
		await appears(driver, 'return document.querySelector("[data-tried-row]") !== null');
		await driver.executeScript(`document.querySelector('[data-proposal]').scrollIntoView();`);
	},
	tried: (driver) => appears(driver, 'return document.querySelectorAll("[data-origin]").length > 0'),
	counted: (driver) => appears(driver, `return document.querySelector('[data-newest-lines]') !== null`),
	grouped: (driver) => appears(driver, 'return document.querySelector("[data-group=all]") !== null'),
	asOne: async (driver) => {
		await appears(driver, 'return document.querySelector("[data-group=Drivetrain] button") !== null');
		await driver.executeScript(`document.querySelector('[data-group=Drivetrain] button').click();`);
		await appears(
			driver,
			'return /sum of its items’ forecasts/.test(document.querySelector("[data-sum-says]")?.textContent)',
		);
		await appears(driver, 'return document.querySelector("[data-line-up=says]") !== null');
		await driver.executeScript(
			`document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'a', bubbles: true })); document.querySelector('#tab-ahead').click();`,
		);
		await appears(driver, 'return document.querySelector("dialog[open]") !== null');
		await driver.executeScript(
			`[...document.querySelectorAll('dialog[open] button')].find((b) => /^Adopt/.test(b.textContent.trim())).click();`,
		);
		await appears(
			driver,
			'return /is adopted for the group/.test(document.querySelector("[data-sum-says]").textContent)',
		);
		await appears(driver, 'return document.querySelector("[data-ahead]") !== null');
	},
	invited: async (driver) => {
		for (const [name, role] of [
			['Ivo Brandt', 'work'],
			['Lena Moor', 'look'],
		])
			await driver.executeAsyncScript(
				`const [name, role, done] = arguments;
				fetch('/api/v1/people', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ name, role }) }).then(done);`,
				name,
				role,
			);
		await driver.executeAsyncScript(
			`const [done] = arguments; const body = JSON.stringify({ name: 'Stock planning', role: 'look', days: 90 });
			fetch('/api/v1/tokens', { method: 'POST', headers: { 'content-type': 'application/json' }, body }).then(done);`,
		);
		await driver.navigate().refresh();
		await appears(driver, `return document.querySelectorAll('[data-person]').length === 3`);
	},
	sweep: async (driver) => {
		const id = await driver.executeAsyncScript(
			`const [done] = arguments; const body = JSON.stringify({ kind: 'propose', items: { asked: {} } });
			fetch('/api/v1/sweeps', { method: 'POST', headers: { 'content-type': 'application/json' }, body })
				.then((answer) => answer.json()).then((sweep) => done(sweep.id));`,
		);
		await driver.get(new URL(`/sweeps/${id}`, await driver.getCurrentUrl()).href);
		await driver.wait(
			() =>
				driver.executeScript(
					`return document.querySelector('[data-sweep-state]')?.textContent.trim() === 'done'`,
				),
			120_000,
		);
		await appears(driver, `return /proposals/.test(document.querySelector('[data-sweep-says]').textContent)`);
	},
};

/**
 * @param {import('selenium-webdriver').WebDriver} driver
 * @param {string} text
 */
const pasteText = (driver, text) =>
	driver.executeScript(
		`const box = document.querySelector('textarea'); box.focus(); box.select();
		const data = new DataTransfer(); data.setData('text/plain', arguments[0]);
		box.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
		text,
	);

/**
 * @param {import('selenium-webdriver').WebDriver} driver
 * @param {string} script true once it is there
 */
async function appears(driver, script) {
	await driver.wait(() => driver.executeScript(script), 15_000, script);
}

async function main() {
	await preparePackages(['postgresql', 'chromium', 'chromium-driver']);
	const { openBrowser } = await import('./lib/browser.mjs');
	mkdirSync(HOME, { recursive: true });
	for (const old of readdirSync(HOME)) rmSync(join(HOME, old));
	await take(await serveForAWhile({ VENTREL_USER: 'mira' }), openBrowser, VIEWS);
	await take(await serveForAWhile({ VENTREL_SIGN_IN: 'on' }), openBrowser, OF_PEOPLE, 'Mira Holt');
}

/**
 * Signs somebody in who comes by a link.
 * @param {import('selenium-webdriver').WebDriver} driver
 * @param {{ address: string, directory: string }} app
 * @param {string} name
 */
async function signIn(driver, { address, directory }, name) {
	const { output } = await run(
		'node',
		[join(ROOT, 'scripts', 'person.mjs'), 'add', name, '--role', 'manage'],
		{
			env: { ...process.env, VENTREL_DATA: directory },
		},
	);
	await driver.get(`${address}/invited#${/\/invited#(\S+)/.exec(output)?.[1]}`);
	await appears(driver, 'return document.documentElement.dataset.ready === "yes"');
	await driver.executeScript(
		`for (const field of document.querySelectorAll('main input:not([type=checkbox])')) { field.focus(); document.execCommand('insertText', false, 'spokes and a bell'); }`,
	);
	await appears(driver, 'return !document.querySelector("main button[type=submit]").disabled');
	await driver.executeScript(`document.querySelector('main button[type=submit]').click()`);
	await appears(driver, 'return document.querySelector("[data-account]") !== null');
}

/**
 * @param {{ address: string, directory: string, stop: () => Promise<void> }} app
 * @param {typeof import('./lib/browser.mjs').openBrowser} openBrowser
 * @param {typeof VIEWS} views
 * @param {string} [person] who is signed in
 */
async function take(app, openBrowser, views, person) {
	const { address } = app;
	const browser = await openBrowser();
	const { driver } = browser;
	try {
		if (person) await signIn(driver, app, person);
		for (const { file, path, act = [], dark = false } of views) {
			await driver.get(address);
			await driver.executeScript(
				`localStorage.setItem('ventrel-theme', arguments[0])`,
				dark ? 'dark' : 'light',
			);
			await driver.get(address + path);
			await appears(driver, 'return document.documentElement.dataset.ready === "yes"');
			if (path.startsWith('/items/'))
				await appears(driver, 'return document.querySelector("[data-line-up=says]") !== null');
			if (path.includes('view=signal'))
				await appears(driver, 'return document.querySelectorAll("[data-signal=says] p").length === 3');
			if (path.includes('view=constants'))
				await appears(driver, 'return document.querySelector("[data-steadiness]") !== null');
			if (path.includes('view=season'))
				await appears(
					driver,
					'return document.querySelector("[data-statement], [data-index-table]") !== null',
				);
			for (const name of act) await ACTS[name]?.(driver);
			await appears(driver, 'return document.fonts.status === "loaded"');
			// Two frames: what was just set is laid out in one and painted in the next.
			await driver.executeAsyncScript(
				'const [done] = arguments; requestAnimationFrame(() => requestAnimationFrame(() => done()));',
			);
			writeFileSync(join(HOME, `${file}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'));
			say(`docs/screenshots/${file}.png`);
			// What was changed for the picture is saved before the next one opens the item again.
			await appears(
				driver,
				'const saving = document.querySelector("[data-saving]"); return !saving || saving.dataset.saving === "saved"',
			);
		}
	} finally {
		await browser.close();
		await app.stop();
	}
}

main().catch(fail);
