import { usualChoiceField } from '../contract/field';
import { seasonField as season } from './season-fields';
import type { CandidateInput } from '../contract/candidate';
import { ALPHA_WITH_SEASON, BETA, GAMMA, PHI } from './smoothing/constants';
import { smoothingMethod } from './smoothing/describe';

const trend = usualChoiceField(
	{
		key: 'trend',
		name: 'trend',
		symbol: 'b',
		meaning: 'Whether a trend is smoothed, and whether it fades ahead.',
	},
	[
		{ value: 'additive', name: 'trend' },
		{ value: 'damped', name: 'damped trend' },
		{ value: 'none', name: 'no trend' },
	],
	'additive',
);

const constants = [ALPHA_WITH_SEASON, BETA, GAMMA, PHI] as const;

function constantsOf(candidate: CandidateInput) {
	const kind = trend.read(candidate);
	return constants.filter(
		({ key }) => (key !== 'beta' || kind !== 'none') && (key !== 'phi' || kind === 'damped'),
	);
}

const TREND_SAID = { additive: '', damped: ', damped', none: ', no trend' };

/** Level, trend and season smoothed side by side (Holt 1957, Winters 1960). */
export const holtWinters = smoothingMethod({
	id: 'holt-winters',
	name: 'Holt-Winters',
	fits: 'Demand with a season, and a trend where there is one: each part is smoothed at its own pace.',
	constants,
	constantsOf,
	fields: [season, trend],
	starts: ['decomposed', 'first-cycle', 'given', 'optimised'],
	label: (candidate) =>
		`Holt-Winters ${season.read(candidate) === 'additive' ? '+' : '×'}${TREND_SAID[trend.read(candidate)]}`,
	short: (candidate) => `Winters ${season.read(candidate) === 'additive' ? '+' : '×'}`,
	family: (candidate) => ({ trend: trend.read(candidate), season: season.read(candidate) }),
});
