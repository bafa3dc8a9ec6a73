import { biasedSide, type Alarm } from '../accuracy/alarm';
import { figure, signed } from '../numbers/figure';
import { type Frequency, periodsInWords } from '../series/frequency';
import { describePeriod, type Ordinal } from '../series/period';
import { chanceWords } from './chance';

/**
 * What the bias alarm says, whether it is raised or not; null where there is nothing to say it of.
 * @param periodOf the period behind `since`
 */
export function alarmWords(
	alarm: Alarm,
	frequency: Frequency,
	periodOf: (since: number) => Ordinal,
): string | null {
	const { ratio, limit, since } = alarm;
	if (ratio === null) return null;
	const side = biasedSide(alarm);
	const stands = `smoothed error ratio ${signed(ratio, 2)}`;
	return side === null
		? `No bias found: ${stands}, within ±${figure(limit, 2)}.`
		: `Biased: the forecast has been too ${side === 'above' ? 'low' : 'high'} of late (${stands}, beyond ±${figure(limit, 2)} since ${describePeriod(frequency, periodOf(since!))}). Propose again.`;
}

/** How often an unbiased forecast raises it. @param count how many periods were scored */
export const alarmChance = ({ chance }: Alarm, frequency: Frequency, count: number): string =>
	`An unbiased forecast raises this alarm within ${periodsInWords(frequency, count)} in ${chanceWords(chance, 'cases')}.`;
