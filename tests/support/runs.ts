/** `npm run test:long` draws all that long properties are meant to be tried on; `npm test` a quarter of it. */
export const LONG = process.env.VENTREL_TEST_LONG !== undefined;

/** How many of a property's runs are made. */
export const runs = (all: number): number => (LONG ? all : Math.ceil(all / 4));

/** A quarter of some cases, another one at each turn, or all of them. */
export const quarterOf = <T>(cases: readonly T[], turn: number): T[] =>
	cases.filter((_, i) => LONG || i % 4 === turn % 4);
