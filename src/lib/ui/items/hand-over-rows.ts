import type { Frequency } from '$core/series/frequency';
import { describePeriod } from '$core/series/period';
import { percent } from '$core/words/chance';
import type { Forecast } from '../../wire/records';
import type { Rows } from '../export/cells';

/** What is handed over beside the final figures. */
export interface Beside {
	computed: boolean;
	/** Level of the ranges that go along, as records name it; null for none. */
	level: string | null;
}

/** A row for each item and period, and after each item the sum of its periods. */
export function longRows(forecasts: readonly Forecast[], { computed, level }: Beside): Rows {
	const head = [
		'code',
		'name',
		'unit',
		'period',
		'final forecast',
		...(computed ? ['computed', 'why changed'] : []),
		...(level === null ? [] : [`low ${percent(Number(level))}`, `high ${percent(Number(level))}`]),
		'method',
		'adopted',
		'by',
	];
	return [
		head,
		...forecasts.flatMap(({ code, name, unit, frequency, first, steps, total, adopted }) => {
			const from = [adopted.label, adopted.at.slice(0, 10), adopted.by];
			return [
				...steps.map(({ final, computed: mean, ranges, reason }, i) => [
					code,
					name,
					unit,
					describePeriod(frequency, first + i),
					final,
					...(computed ? [mean, reason ?? ''] : []),
					...(level === null ? [] : [ranges[level]?.[0] ?? null, ranges[level]?.[1] ?? null]),
					...from,
				]),
				[
					code,
					name,
					unit,
					`sum of ${steps.length}`,
					total.final,
					...(computed ? [total.computed, ''] : []),
					...(level === null ? [] : [null, null]),
					...from,
				],
			];
		}),
	];
}

/** A row an item, periods of one frequency across, with their sum; computed figures and ranges in rows of their own below. */
export function acrossRows(
	forecasts: readonly Forecast[],
	frequency: Frequency,
	{ computed, level }: Beside,
): Rows {
	const own = forecasts.filter((each) => each.frequency === frequency);
	const from = Math.min(...own.map(({ first }) => first));
	const to = Math.max(...own.map(({ first, steps }) => first + steps.length - 1));
	if (own.length === 0) return [['code', 'name', 'unit', 'figures', 'sum']];
	const periods = Array.from({ length: to - from + 1 }, (_, i) => from + i);
	const many = computed || level !== null;
	return [
		[
			'code',
			'name',
			'unit',
			...(many ? ['figures'] : []),
			...periods.map((period) => describePeriod(frequency, period)),
			'sum',
		],
		...own.flatMap(({ code, name, unit, first, steps, total }) => {
			const row = (
				what: string,
				figureOf: (step: Forecast['steps'][number]) => number | null,
				sum: number | null,
			) => [
				code,
				name,
				unit,
				...(many ? [what] : []),
				...periods.map((period) => {
					const step = steps[period - first];
					return step ? figureOf(step) : null;
				}),
				sum,
			];
			return [
				row('final forecast', ({ final }) => final, total.final),
				...(computed ? [row('computed', (step) => step.computed, total.computed)] : []),
				...(level === null
					? []
					: [
							row(`low ${percent(Number(level))}`, ({ ranges }) => ranges[level]?.[0] ?? null, null),
							row(`high ${percent(Number(level))}`, ({ ranges }) => ranges[level]?.[1] ?? null, null),
						]),
			];
		}),
	];
}
