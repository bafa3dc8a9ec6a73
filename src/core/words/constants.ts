import type { CandidateInput } from '../contract/candidate';
import { writeFigure } from '../numbers/figure';
import { constantsOfCandidate } from '../methods/registry';

/** The constants of a candidate as they were found, by their symbols: “α 0.3, γ 0.012”. Empty for one without any. */
export const constantsWords = (
	candidate: CandidateInput,
	constants: Readonly<Record<string, number>>,
): string =>
	constantsOfCandidate(candidate)
		.filter(({ key }) => constants[key] !== undefined)
		.map(({ key, symbol }) => `${symbol} ${writeFigure(constants[key]!, 3)}`)
		.join(', ');
