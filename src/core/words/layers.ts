import type { Frequency } from '../series/frequency';
import type { GapRule } from '../series/gaps';
import type { Layer } from '../series/layers';
import { describePeriod } from '../series/period';
import { figure } from '../numbers/figure';
import type { LayerEntry } from '../series/layer-entries';

/** What a missing figure becomes, as a choice. */
export const RULE_WORDS: Readonly<Record<GapRule, string>> = {
	skip: 'stays missing',
	'carry-forward': 'repeats the one before',
	interpolate: 'lies between its neighbours',
	seasonal: 'is the season’s of a cycle before',
	zero: 'is zero',
};

const LAYER_WORDS: Readonly<Record<Layer, string>> = {
	correction: 'corrections',
	'gap-rule': 'the rule for gaps',
	gap: 'rules for single gaps',
	'left-out': 'left-out periods',
	event: 'events',
	'per-day': 'the rate per day',
};

/** An entry of the record in words: “Mar 2024 corrected to 412”. */
export function entryWords(entry: LayerEntry, frequency: Frequency, decimals: number): string {
	const period = 'period' in entry ? describePeriod(frequency, entry.period) : '';
	const gone = entry.setting === null;
	switch (entry.kind) {
		case 'correction':
			if (entry.setting === null) return `${period} as it came in again`;
			return entry.setting.over === null
				? `${period} typed in: ${figure(entry.setting.to, decimals)}`
				: `${period} corrected from ${figure(entry.setting.over, decimals)} to ${figure(entry.setting.to, decimals)}`;
		case 'gap':
			return entry.setting === null
				? `${period} as all gaps again`
				: `the gap in ${period} ${RULE_WORDS[entry.setting]}`;
		case 'left-out':
			return gone ? `${period} put back` : `${period} left out`;
		case 'event':
			return entry.setting === null ? `event of ${period} taken off` : `event in ${period}: ${entry.setting}`;
		case 'gap-rule':
			return `a missing figure ${RULE_WORDS[entry.setting ?? 'skip']}`;
		case 'per-day':
			return gone ? 'totals worked on again' : 'the rate per day worked on';
		case 'season-length':
			return entry.setting === null
				? 'the season length of the calendar again'
				: `season length set to ${entry.setting}`;
		case 'off':
			return `${LAYER_WORDS[entry.layer]} switched ${gone ? 'on' : 'off'}`;
	}
}
