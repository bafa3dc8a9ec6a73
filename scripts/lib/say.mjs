// What a command says on its way: one line a step, with how long it took.

/** A reason to stop that needs no stack: the text says what is wrong and what helps. */
export class Stop extends Error {}

/** @param {string} line */
export const say = (line) => process.stdout.write(`${line}\n`);

/**
 * Runs a step and says what it did and how long it took; silent steps return null.
 * @template T
 * @param {string} name
 * @param {() => Promise<{ said: string, value: T }>} work
 * @returns {Promise<T>}
 */
export async function step(name, work) {
	const began = performance.now();
	const { said, value } = await work();
	say(`${name.padEnd(14)} ${said} (${((performance.now() - began) / 1000).toFixed(1)} s)`);
	return value;
}

/**
 * Ends the process with a plain sentence for a Stop and with the stack for a defect.
 * @param {unknown} error
 * @returns {never}
 */
export function fail(error) {
	process.stderr.write(
		`\n${error instanceof Stop ? error.message : String(error instanceof Error ? error.stack : error)}\n`,
	);
	process.exit(1);
}
