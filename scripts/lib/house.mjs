// What grows has its end: a few kinds of rows go when their time is over (`keep_house` in db/migrations says which).
import { connected } from './connected.mjs';
import { say } from './say.mjs';

const HOUR = 3_600_000;

/**
 * @param {string} ownerUrl
 * @returns {Promise<Record<string, number>>} how many rows went, by what they were
 */
export function keepHouseOnce(ownerUrl) {
	return connected(ownerUrl, async (client) => {
		const { rows } = await client.query('SELECT what, gone::integer FROM keep_house()');
		return Object.fromEntries(rows.map(({ what, gone }) => [what, gone]));
	});
}

/**
 * Once at the start and then every hour.
 * @param {string} ownerUrl
 * @returns {() => void} ends it
 */
export function keepHouse(ownerUrl) {
	const look = () =>
		void keepHouseOnce(ownerUrl).catch((error) =>
			say(`What is over could not be deleted: ${/** @type {Error} */ (error).message}`),
		);
	look();
	const again = setInterval(look, HOUR);
	return () => clearInterval(again);
}
