import { accusedSide, type Alarm } from '../accuracy/alarm';
import { figure, signed } from '../numbers/figure';
import { type Frequency, periodsInWords } from '../series/frequency';
import { describePeriod, type Ordinal } from '../series/period';

/**
 * What the alarm says, whether it accuses or not; null where there is nothing to say it of.
 * @param periodOf the period behind `since`
 * @param count how many periods were scored
 */
export function alarmWords(
	alarm: Alarm,
	frequency: Frequency,
	periodOf: (since: number) => Ordinal,
	count: number,
): string | null {
	const { ratio, limit, chance, since } = alarm;
	if (ratio === null) return null;
	const side = accusedSide(alarm);
	const stands = `smoothed error ratio ${signed(ratio, 2)}`;
	const said =
		side === null
			? `No drift: ${stands}, inside ±${figure(limit, 2)}.`
			: `Demand has run ${side} the forecast of late: ${stands}, outside ±${figure(limit, 2)} since ${describePeriod(frequency, periodOf(since!))}.`;
	return `${said} Within ${periodsInWords(frequency, count)} a sound forecast would have been accused at some time with a chance of ${chanceWords(chance)}.`;
}

const chanceWords = (share: number) =>
	share < 0.01 ? 'less than 1 %' : share > 0.99 ? 'more than 99 %' : `${Math.round(100 * share)} %`;
