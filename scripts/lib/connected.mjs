/**
 * Does something on a connection of its own. The package is loaded here and no earlier: commands begin before packages are installed.
 * @template T
 * @param {string} url
 * @param {(client: import('pg').Client) => Promise<T>} work
 * @returns {Promise<T>}
 */
export async function connected(url, work) {
	const { default: pg } = await import('pg');
	const client = new pg.Client({ connectionString: url });
	// One that breaks says so to whoever asks; without a listener it would end the process.
	client.on('error', () => undefined);
	await client.connect();
	try {
		return await work(client);
	} finally {
		await client.end();
	}
}
