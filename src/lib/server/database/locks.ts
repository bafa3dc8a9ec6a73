/**
 * Names of the advisory locks, which all programs on a database share: no two of them may be alike, nor like 7_214_063_581 and
 * 7_214_063_583, which are those of migrating and of the application's role (`scripts/`). Those of two numbers have a
 * second one of their own beside this; they and those of one number never meet.
 */
export const LOCKS = {
	/** Of one number. */
	demo: 7_214_063_582,
	workspace: 7_214_063_585,
	newest: 7_214_063_584,
	inbox: 7_214_063_586,
	outbox: 7_214_063_587,
	/** Of two: the second is a workspace. */
	oneFileAtATime: 721_406,
	/** The second is a process that works sweeps off. */
	workerProcess: 721_407,
} as const;
