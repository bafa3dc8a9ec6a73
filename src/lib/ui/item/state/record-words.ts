import type { Alarm } from '$core/accuracy/alarm';
import { alarmOfGrades, type Grade, scoreOf } from '$core/grading/grades';
import type { Scale } from '$core/numbers/figure';
import type { Frequency } from '$core/series/frequency';
import type { Ordinal } from '$core/series/period';
import { alarmChance, alarmWords } from '$core/words/alarm';
import { addedWords, scoreWords } from '$core/words/status';
import type { ItemGrades } from '../../../wire/status';

/** Which grades are looked at: those of the run going on, all, or the last twelve. */
export type Over = 'run' | 'all' | 'twelve';

/** Grades that are looked at, and what they say: how far it was off, what changes by hand added, and whether it drifts. */
export function recordWords(
	graded: ItemGrades | null,
	over: Over,
	frequency: Frequency,
	scale: Scale,
): {
	grades: readonly Grade[];
	alarm: Alarm | null;
	periodOf: (place: number) => Ordinal;
	sentences: string[];
} {
	const all = graded?.grades ?? [];
	const run = all.at(-1)?.run ?? null;
	const ofRun = all.filter((grade) => grade.run === run);
	const grades = over === 'all' ? all : over === 'twelve' ? all.slice(-12) : ofRun;
	const scored = ofRun.filter((grade) => grade.scored);
	// The alarm speaks of the run that is going on, whatever else is looked at.
	const alarm =
		graded && scored.length > 0
			? alarmOfGrades(scored, graded.sizes[String(run)] ?? null, graded.limit)
			: null;
	const periodOf = (place: number) => scored[place - 1]!.period;
	const score = scoreOf(grades);
	const sentences = [
		scoreWords(score, frequency, scale),
		addedWords(score, frequency, scale),
		alarm && alarmWords(alarm, frequency, periodOf),
		alarm && alarmChance(alarm, frequency, scored.length),
	].filter((sentence) => sentence !== null);
	return { grades, alarm, periodOf, sentences };
}
