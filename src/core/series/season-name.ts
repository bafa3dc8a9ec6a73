import { CALENDAR_SEASON_LENGTH, type Frequency } from './frequency';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** The name of season 1 … P: a month, a quarter, a half-year, a weekday, an hour, or its number. */
export function seasonName(frequency: Frequency, length: number, season: number): string {
	if (length === CALENDAR_SEASON_LENGTH[frequency]) {
		if (frequency === 'month') return MONTHS[season - 1]!;
		if (frequency === 'quarter') return `Q${season}`;
		if (frequency === 'half-year') return `H${season}`;
		if (frequency === 'day' || frequency === 'weekday') return WEEKDAYS[season - 1]!;
		if (frequency === 'hour') return `${String(season - 1).padStart(2, '0')}:00`;
		if (frequency === 'week') return `W${season}`;
	}
	return String(season);
}
