import type { Series } from '../series/series';
import type { Model, Run } from '../contract/model';
import type { Recorded, Spelled, Working } from '../contract/working';
import { figure } from '../working/expression';

/**
 * A model without parameters whose forecast is the same for every step ahead: the last value, averages.
 * @param next next[o] is the forecast made at the end of period o (0 … n), NaN where there is none
 */
export function flatModel(series: Series, next: Float64Array): Model {
	const fitted = next.subarray(0, series.values.length);
	const run: Run = {
		fitted,
		start: null,
		states: {},
		forecast: (origin, out) => out.fill(next[origin]!),
	};
	return fixedModel(run);
}

/** A model whose run does not depend on any parameter. */
export const fixedModel = (run: Run): Model => lazyModel(() => run);

/**
 * The same, its run made when somebody first asks for what came before the periods to come.
 * @param ahead writes the forecasts after the last period, where they are to be had without it
 */
export function lazyModel(make: () => Run, ahead?: (out: Float64Array) => void): Model {
	const made: Run[] = [];
	const whole = (): Run => {
		if (made.length === 0) made.push(make());
		return made[0]!;
	};
	return {
		get firstFitted() {
			const { fitted } = whole();
			const first = fitted.findIndex((value) => !Number.isNaN(value));
			return first < 0 ? fitted.length + 1 : first + 1;
		},
		parameters: [],
		pass: (_parameters, fitted) => fitted.set(whole().fitted),
		run: whole,
		...(ahead && { ahead: (_parameters, out) => ahead(out) }),
	};
}

/** The latest position up to t that has an actual, or null. */
export function lastPresent(recorded: Recorded, t: number): number | null {
	for (let i = t; i >= 1; i--) if (recorded.value(i) !== null) return i;
	return null;
}

/** The working of a method without states whose forecast ahead of n is what the column would say at n + 1. */
export function flatWorking(
	equation: string,
	ahead: string,
	explain: (recorded: Recorded, t: number) => Spelled | null,
): { working: () => Working } {
	const working: Working = {
		forecast: { key: 'fitted', name: 'Forecast', equation, explain },
		states: [],
		ahead,
		explainAhead: (recorded) => explain(recorded, recorded.periods + 1),
	};
	return { working: () => working };
}

/** A figure that is simply taken over, with the reason. */
export const takenOver = (value: number | null, remark: string): Spelled | null =>
	value === null ? null : { expression: figure(value), remark };
