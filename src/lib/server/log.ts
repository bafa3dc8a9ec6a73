import pino from 'pino';

/** The program's log: JSON lines on standard error, at the level that LOG_LEVEL names. */
export const log = pino(
	{ level: process.env.LOG_LEVEL ?? 'warn', base: { process: process.pid } },
	pino.destination(2),
);
