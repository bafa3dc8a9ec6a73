import type { Frequency } from '$core/series/frequency';
import { firstDay, type Ordinal } from '$core/series/period';
import { periodOfDay, readPeriods } from './periods';
import type { Roles } from './roles';

/** The one period that stands above a table, for figures beside which there is none. */
export interface TitlePeriod {
	frequency: Frequency;
	ordinal: Ordinal;
	/** As it is written, and where. */
	text: string;
	row: number;
}

/** Words of a title that may spell a period together. */
const MOST_WORDS = 4;
/** Titles are short; sentences are not looked through. */
const LONGEST = 120;

/** Every period with its year in a text; days are when it was printed. */
function periodsIn(text: string): { frequency: Frequency; ordinal: Ordinal; text: string }[] {
	// Between two of them stands no word of either.
	const words = text.split(/[\s,;:()]+/).filter((word) => !/^(?:[–—-]*|to|bis|au|al|do|till)$/i.test(word));
	const found: { frequency: Frequency; ordinal: Ordinal; text: string }[] = [];
	const days: Ordinal[] = [];
	for (let from = 0; from < words.length; from++) {
		for (let count = Math.min(MOST_WORDS, words.length - from); count > 0; count--) {
			const text = words.slice(from, from + count).join(' ');
			const column = /\d/.test(text) ? readPeriods([text]) : null;
			if (!column || column.yearless || column.frequency === 'step') continue;
			if (column.days) days.push(column.days[0]!);
			else found.push({ frequency: column.frequency, ordinal: column.ordinals[0]!, text });
			from += count - 1;
			break;
		}
	}
	// From the first day of a month to its last.
	const [first, last] = days;
	if (found.length === 0 && days.length === 2) {
		const ordinal = periodOfDay('month', first!);
		if (firstDay('month', ordinal) === first && firstDay('month', ordinal + 1) === last! + 1)
			found.push({ frequency: 'month', ordinal, text });
	}
	return found;
}

/** The one period in the rows above the figures that are no headings; null where there is none, or several. */
export function titlePeriod(rows: readonly (readonly string[])[], roles: Roles): TitlePeriod | null {
	const body = roles.rows.indexOf('figures');
	const found: TitlePeriod[] = [];
	for (let row = 0; row < body; row++) {
		const cells = rows[row]!.filter((cell) => cell !== '');
		const text = cells.join(' ');
		const role = roles.rows[row];
		const said = role === 'quantity' ? (roles.quantity?.demand ?? '') : role === 'ignored' ? text : '';
		if ((role === 'ignored' && cells.length > 3) || text.length > LONGEST) continue;
		found.push(...periodsIn(said).map((each) => ({ ...each, row })));
	}
	// A year beside its months says nothing more.
	const finer = found.filter(({ frequency }) => frequency !== 'year');
	const some = finer.length > 0 ? finer : found;
	const distinct = new Set(some.map(({ frequency, ordinal }) => `${frequency} ${ordinal}`));
	return distinct.size === 1 ? some[0]! : null;
}
