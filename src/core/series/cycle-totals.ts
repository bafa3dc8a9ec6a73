import type { Frequency } from './frequency';
import { calendarSeason, describePeriod, type Ordinal, yearOf } from './period';

/** Periods of one cycle of the calendar, among some that follow each other. */
export interface CyclePart {
	/** “2027”; for cycles shorter than a year their first and last period. */
	name: string;
	/** 0-based places of its first and last period. */
	from: number;
	to: number;
	/** Whether all periods of the cycle are there. */
	whole: boolean;
}

/**
 * Splits periods by the cycles of the calendar, for totals by year, week or day.
 * @param first ordinal of the first, @param count how many
 * @returns no parts where the calendar has no cycle at this frequency
 */
export function cycleParts(
	frequency: Frequency,
	seasonLength: number,
	first: Ordinal,
	count: number,
): CyclePart[] {
	const parts: CyclePart[] = [];
	for (let i = 0; i < count; i++) {
		const season = calendarSeason(frequency, first + i);
		if (season === null) return [];
		// Week 53 is counted with week 52.
		const begins = season === 1 && (i === 0 || calendarSeason(frequency, first + i - 1) !== 1);
		if (i === 0 || begins) parts.push({ name: '', from: i, to: i, whole: season === 1 });
		else parts.at(-1)!.to = i;
	}
	return parts.map((part) => {
		const [from, to] = [first + part.from, first + part.to];
		const year =
			frequency === 'day' || frequency === 'weekday' || frequency === 'hour' ? null : yearOf(frequency, to);
		return {
			...part,
			name:
				year === null
					? `${describePeriod(frequency, from)} – ${describePeriod(frequency, to)}`
					: String(year),
			whole: part.whole && part.to - part.from + 1 >= seasonLength,
		};
	});
}
