/**
 * What makes a reading of a table unlikely, in one currency: 0 is beyond doubt, 1 a guess, 5 hardly ever. Costs of one reading add up; the
 * least one is taken, those within `NEAR` of it are doubts. `npm run bench -- reading` says whether another figure reads more tables.
 */

/** Beyond so much more than the likeliest, nothing is laid out. */
export const ROOM = 4;
/** How much likelier the best reading has to be for the next one not to be mentioned. */
export const NEAR = 1;
export const NOTHING_THERE = 20;

/** That a row of numbers heads the figures. */
export const START = {
	titleOfDigits: 0.4,
	/** Figures begin in a row that has more words than numbers. */
	moreWords: 0.8,
	/** Below words of which each stands once, which head the numbers. */
	underWords: 2,
	years: 0.5,
	countsSaid: 0.2,
	counts: 0.7,
	countsBesideWord: 2.2,
	dates: 0.4,
	codesSaid: 0.3,
	codesAmongWords: 1.5,
	codes: 2,
	oneCode: 1,
	figuresSaid: 1.5,
	figures: 5,
};

/** That a column of numbers labels the others, or has figures. */
export const KEY = {
	/** From so much on a column is taken for a key without trying the other way. */
	beyondDoubt: 3,
	figureSaidKey: 4,
	figureSaidPeriod: 3.5,
	saidPeriodAlone: 1.5,
	strangeHeading: 1.4,
	years: 0.2,
	yearsAsFigures: 2,
	fewYearsAsFigures: 1,
	dates: 0.3,
	datesAsFigures: 2,
	serialsAsFigures: 1.2,
	counts: 0.6,
	countsBesideDates: 0.6,
	countsSaidAsFigures: 0.2,
	countsAsFigures: 1,
	someCountsAsFigures: 0.5,
	codes: 0.9,
	codesAgainAsFigures: 1,
	codesAsFigures: 0.3,
	/** All quantities are taken where one of them is demand. */
	everyQuantity: 1.2,
};

/** That the first rows of figures are rather headings: “Month” stands beside them, or nothing where others are named. */
export const HEADED = { word: 2.5, unnamed: 1.5, most: 4 };

/** What is left over when roles are given. */
export const ODD = { words: 0.25, counts: 0.3, numbers: 1.5, heading: 0.3, total: 0.05, mostLost: 3 };

/** That labels tell time. */
export const TELLS = {
	said: 0.1,
	countedCycles: 0.2,
	steadyYears: 0.3,
	years: 1.5,
	serials: 0.8,
	months: 0.6,
	dates: 1.2,
	runs: 0.7,
	numbers: 2,
	saidNumbers: 0.2,
	steadyNumbers: 0.9,
	anyNumbers: 4,
	numbersInWords: 0.4,
	/** Under a heading that names something else. */
	named: 1.5,
	seasonsInWords: 0.3,
	broken: 1.5,
	/** Share of a span that dates of orders leave out, against that of other periods. */
	gapsOfDays: 0.2,
};

/** How lines are put together. */
export const LAYOUT = {
	timeless: 2.5,
	/** Numbers are taken for periods where whole periods stand beside them. */
	countedBesidePeriods: 2,
	/** A side tells time and is not asked. */
	unasked: 2.5,
	unaskedNumbers: 1.2,
	unaskedDates: 0.8,
	/** It says again what the period says. */
	toldAgain: 0.2,
	/** Its heading says that it tells time. */
	saidUnasked: 1,
	forced: 2,
	forcedPair: 3,
	gaps: 0.5,
	/** Without a year the first period has to be asked for. */
	yearless: 1.5,
	sections: 0.2,
	brokenPeriods: 1.5,
	noPeriods: 6,
};

/** What lines are called. */
export const NAMED = {
	/** Items under a heading that is no word for them. */
	otherHeading: 0.3,
	/** Words a row that are taken for periods nobody knows. */
	unknownPeriods: 1,
	/** Items on both sides are joined. */
	joined: 0.8,
	/** Items that are there twice. */
	twice: 0.8,
};
