/**
 * How items stand, made anew from their records and actuals, and held against what is kept; `check` leaves it as it is. Ends with 1
 * where anything differs. Its database is DATABASE_URL, as the application connects.
 */
import { closePool, pool } from '../lib/server/database/database';
import { checkStatus, processQueue, queueAll } from '../lib/server/status/status';

/** Pause while somebody else has the items that are left. */
const PAUSE = 100;

async function isLeft(): Promise<boolean> {
	const { rows } = await pool().query('SELECT 1 FROM status_queue LIMIT 1');
	return rows.length > 0;
}

if (!process.argv.includes('check')) await queueAll();
while (await isLeft()) if ((await processQueue()) === 0) await new Promise((done) => setTimeout(done, PAUSE));
const { items, differ } = await checkStatus();
process.stdout.write(
	differ.length === 0
		? `${items} items stand as grading from scratch says.\n`
		: `${differ.length} of ${items} items stand otherwise than grading from scratch says: ${differ.slice(0, 20).join(', ')}\n`,
);
if (differ.length > 0) process.exitCode = 1;
await closePool();
