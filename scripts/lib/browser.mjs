// Headless Chromium of Debian's packages, driven by its own driver.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

const SWITCHES = [
	'--headless=new',
	'--no-sandbox',
	'--disable-gpu',
	'--disable-quic',
	'--disable-dev-shm-usage',
	'--no-first-run',
	'--disable-background-networking',
	'--disable-component-update',
	'--disable-sync',
	'--hide-scrollbars',
	'--force-color-profile=srgb',
];

/**
 * @param {{ width?: number, height?: number }} [size] of the page, in pixels
 * @returns {Promise<{ driver: import('selenium-webdriver').WebDriver, downloads: string, close: () => Promise<void> }>}
 *   downloads: the directory that files are saved to
 */
export async function openBrowser({ width = 1280, height = 800 } = {}) {
	const profile = mkdtempSync(join(tmpdir(), 'ventrel-browser-'));
	const downloads = join(profile, 'downloads');
	const options = new chrome.Options();
	options.setBinaryPath('/usr/bin/chromium');
	options.addArguments(
		...SWITCHES,
		`--user-data-dir=${join(profile, 'profile')}`,
		`--window-size=${width},${height}`,
	);
	options.setUserPreferences({
		'download.default_directory': downloads,
		'download.prompt_for_download': false,
	});
	const driver = await new Builder()
		.forBrowser('chrome')
		.setChromeOptions(options)
		.setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
		.build();
	// The window's own frame takes some of the height: give the page what was asked for.
	const inner = /** @type {[number, number]} */ (
		await driver.executeScript('return [window.innerWidth, window.innerHeight]')
	);
	await driver
		.manage()
		.window()
		.setRect({ width: 2 * width - inner[0], height: 2 * height - inner[1] });
	return {
		driver,
		downloads,
		close: async () => {
			await driver.quit();
			rmSync(profile, { recursive: true, force: true });
		},
	};
}
