import type { Alarm } from '../accuracy/alarm';
import { signed } from '../numbers/figure';
import { periodsInWords } from '../series/frequency';
import { describePeriod } from '../series/period';
import type { Series } from '../series/series';

/**
 * What the alarm says; null where it accuses nobody.
 * @param count how many periods were scored
 */
export function alarmWords(
	{ ratio, limit, chance, since }: Alarm,
	{ frequency, first }: Pick<Series, 'frequency' | 'first'>,
	count: number,
): string | null {
	if (since === null || ratio === null) return null;
	const side = ratio > 0 ? 'above' : 'below';
	return `Demand has run ${side} the forecast of late, beyond what chance explains: its smoothed error ratio is ${signed(ratio, 2)}, outside ±${limit} since ${describePeriod(frequency, first + since - 1)}. ${chanceWords(chance, periodsInWords(frequency, count))}`;
}

/** How often a sound forecast would be accused. */
export const chanceWords = (chance: number, within: string): string =>
	`A sound forecast gets there at some time within ${within} with a chance of ${percent(chance)}.`;

const percent = (share: number) =>
	share < 0.01 ? 'less than 1 %' : share > 0.99 ? 'more than 99 %' : `${Math.round(100 * share)} %`;
