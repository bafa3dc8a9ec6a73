import type { Rare, SeasonDiagnosis } from '../diagnosis/diagnosis';
import { fixedFigure } from '../numbers/figure';
import { type Frequency, periodWord } from '../series/frequency';
import { countPresent, type Series } from '../series/series';
import type { Note } from '../contract/note';

/** Remarks about the series as a whole. */
export function seriesNotes(series: Series, { season, rare }: SeasonDiagnosis): Note[] {
	const notes: Note[] = [];
	const present = countPresent(series.values);
	if (present < series.values.length) {
		const missing = series.values.length - present;
		notes.push({
			code: 'missing-values',
			text: `${missing} of ${series.values.length} periods ${missing === 1 ? 'has' : 'have'} no actual.`,
			figures: { missing, periods: series.values.length },
		});
	}
	if (season) {
		const { length, strength } = season;
		notes.push({
			code: 'looks-seasonal',
			text: `Demand has a season of ${length} ${periodWord(series.frequency, length)}: it explains ${fixedFigure(100 * strength, 0)} % of the movement about the level.`,
			figures: { strength, seasonLength: length },
		});
	}
	if (rare) notes.push(rareNote(rare, series.frequency));
	return notes;
}

/** That demand is rare, and what measures are worth then. */
export const rareNote = ({ some, of }: Rare, frequency: Frequency): Note => ({
	code: 'rare-demand',
	text: `Rare demand: ${some} of ${of} ${periodWord(frequency, of)} had any. Compare methods by mean error and MSE; by MAD or MAPE a forecast of 0 would win.`,
	figures: { some, of },
});
