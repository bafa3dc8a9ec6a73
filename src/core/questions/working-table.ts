import { signalAt, type Tracking } from '../accuracy/tracking';
import type { Evaluated } from './answer';
import type { Recorded, Spelled, WorkingColumn } from '../contract/working';
import { distinctNames } from '../methods/names';
import { finerScale, type Scale, scaleOf, usualScale, writtenDecimals } from '../numbers/figure';
import { figureAt } from '../numbers/known';
import { type Candidate, methodOf } from '../methods/registry';
import type { ValidRequest } from './request';
import { daysIn, type Ordinal } from '../series/period';
import { prepareSeries, seasonAt, type Series } from '../series/series';

import { figure, minus, over, plus, size, spellOut, times } from '../working/expression';

/** A column of the working: a figure for each period, and the sentence behind each figure. */
export interface TableColumn {
	key: string;
	name: string;
	/** The name as the head of a column has it, where it has no room for all of it. */
	short?: string;
	equation: string;
	/** How the table shows its figures. */
	scale: Scale;
	/** Places of a figure that is spelled out, where it stands as it is. */
	decimals: number;
	/** The figure at t (1-based), null where there is none; formed when it is asked for, for most are never seen. */
	value(t: number): number | null;
	/** How the figure at t (1-based) comes about; null for what was brought in and where there is no figure. */
	explain(t: number): Spelled | null;
}

/** The arithmetic of one candidate, period by period. */
export interface WorkingTable {
	/** How many periods it has. */
	periods: number;
	columns: TableColumn[];
	/** The forecast ahead as an equation in symbols. */
	ahead: string;
	/** How the forecast a number of steps ahead comes about. */
	explainAhead(step: number): Spelled | null;
}

/** What the working of every candidate of a series has in common, however many of them are looked at. */
export interface WorkedSeries {
	series: Series;
	/** How its figures are shown, and those that were brought in. */
	usual: Scale;
	brought: Scale;
}

export function workedSeries({ series, gaps }: Pick<ValidRequest, 'series' | 'gaps'>): WorkedSeries {
	const usual = usualScale(series.values);
	// What a gap rule filled in may have more decimals than what was brought in.
	const decimals = () => writtenDecimals(series.values, usual.decimals + 2);
	const brought = gaps === 'skip' && usual.power === 0 ? { power: 0, decimals: decimals() } : usual;
	return { series: prepareSeries(series, gaps), usual, brought };
}

function column(
	key: string,
	name: string,
	equation: string,
	scale: Scale,
	value: (t: number) => number | null,
	explain: (t: number) => Spelled | null,
): TableColumn {
	return {
		key,
		name,
		equation,
		scale,
		decimals: Math.max(0, scale.decimals - scale.power),
		value,
		explain: (t) => (value(t) === null ? null : explain(t)),
	};
}

/**
 * The working of a fitted candidate, built from its answer: the sentences use the method's own equations and the
 * recorded states, nothing is computed anew.
 * @param result in full detail
 * @param worked of the same request
 */
export function workingTable(
	request: ValidRequest,
	result: Evaluated,
	worked: WorkedSeries = workedSeries(request),
): WorkingTable {
	const candidate = request.candidates.find(({ id }) => id === result.id)!;
	const recorded = recordedOf(request, candidate, result, worked.series);
	const names = distinctNames(request.candidates, () => undefined);
	const methods = new Map(request.candidates.map((each) => [each.id, each]));
	const working = methodOf(candidate.method).working(candidate, (id) => {
		const each = methods.get(id)!;
		return { name: names.get(id)!, short: methodOf(each.method).short(each) };
	});
	const { usual, brought } = worked;
	const { own: measured } = result.measures;
	const ofErrors = finerScale(usual, measured.mad);
	const ofSquares = scaleOf([measured.mse]);
	const { fitted, errors } = result.perPeriod!;
	const { days } = recorded;
	const total = (rate: number | null, t: number) => (rate === null ? null : rate * (days?.[t - 1] ?? 1));
	const actual = (t: number) => total(recorded.value(t), t);
	const forecast = (t: number) => figureAt(fitted, t - 1);
	// Rates are smaller than totals by the days of a month and want as many places more.
	const ofRates = days ? { ...usual, decimals: usual.decimals + 2 } : usual;
	const { forecast: own } = working;
	const error = (t: number) => figureAt(errors, t - 1);
	const magnitude = (t: number) => (error(t) === null ? null : Math.abs(error(t)!));
	const square = (t: number) => (error(t) === null ? null : error(t)! ** 2);
	const percent = (t: number) =>
		error(t) === null || !actual(t) ? null : 100 * Math.abs(error(t)! / actual(t)!);

	return {
		periods: recorded.periods,
		columns: [
			column('actual', 'Actual', 'yₜ', brought, actual, () => null),
			...(days
				? [
						column(
							'days',
							'Days',
							'dₜ',
							PLAIN,
							(t) => days[t - 1]!,
							() => null,
						),
						column('rate', 'Rate a day', 'yₜ ÷ dₜ', ofRates, recorded.value, (t) => ({
							expression: over(figure(actual(t)!), figure(days[t - 1]!)),
						})),
						column('fittedRate', `${own.name} a day`, own.equation, ofRates, recorded.fitted, (t) =>
							own.explain(recorded, t),
						),
						column('fitted', own.name, 'rate · dₜ', usual, forecast, (t) => ({
							expression: times(figure(recorded.fitted(t)!), figure(days[t - 1]!)),
						})),
					]
				: [column('fitted', own.name, own.equation, usual, forecast, (t) => own.explain(recorded, t))]),
			column('error', 'Error', 'eₜ = yₜ − fₜ', ofErrors, error, (t) => ({
				expression: minus(figure(actual(t)!), figure(forecast(t)!)),
			})),
			...working.states.map((state) => ({
				...column(
					state.key,
					state.name,
					state.equation,
					scaleOfState(state, ofRates),
					(t) => recorded.state(state.key, t),
					(t) => state.explain(recorded, t),
				),
				short: state.short,
			})),
			column('magnitude', '|Error|', '|eₜ|', ofErrors, magnitude, (t) => ({
				expression: size(figure(error(t)!)),
			})),
			column('square', 'Error²', 'eₜ²', ofSquares, square, (t) => ({
				expression: times(figure(error(t)!), figure(error(t)!)),
			})),
			column('percent', '% error', '100 · |eₜ ÷ yₜ|', { power: 0, decimals: 1 }, percent, (t) => ({
				expression: times(figure(100), size(over(figure(error(t)!), figure(actual(t)!)))),
			})),
			...trackingColumns(result.perPeriod!.tracking, error, ofErrors),
		],
		ahead: working.ahead,
		explainAhead(step) {
			// Steps go on from the last period that was fitted; what a mix is made from is known ahead of today alone.
			if (request.holdout > 0 && result.parts) return null;
			const spelled = working.explainAhead(recorded, step);
			if (!spelled || !days) return spelled;
			const weight = daysIn(request.series.frequency, recorded.first + recorded.periods + step - 1);
			return { ...spelled, expression: times(spelled.expression, figure(weight)) };
		},
	};
}

/** Running sum, mean absolute error so far, and the signal made of both. */
function trackingColumns(
	tracking: Tracking,
	error: (t: number) => number | null,
	ofErrors: Scale,
): TableColumn[] {
	/** Place of period t among those tracked, which stand in order; −1 where it is none of them. */
	const entryOf = (t: number) => {
		const { positions } = tracking;
		let [low, high] = [0, positions.length];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (positions[middle]! < t - 1) low = middle + 1;
			else high = middle;
		}
		return positions[low] === t - 1 ? low : -1;
	};
	const tracked = (list: Float64Array) => (t: number) => figureAt(list, entryOf(t));
	const cfe = tracked(tracking.cfe);
	const mad = tracked(tracking.mad);
	const signal = (t: number) => signalAt(tracking, entryOf(t));
	return [
		column('cfe', 'Running sum', 'Eₜ = Eₜ₋₁ + eₜ', ofErrors, cfe, (t) => {
			const before = figureAt(tracking.cfe, entryOf(t) - 1);
			if (before === null) return { expression: figure(error(t)!), remark: 'the first scored error' };
			return { expression: plus(figure(before), figure(error(t)!)) };
		}),
		column('mad', 'MAD so far', 'Mₜ = mean of |e| so far', ofErrors, mad, (t) => {
			const count = entryOf(t) + 1;
			const before = figureAt(tracking.mad, count - 2);
			if (before === null) return { expression: size(figure(error(t)!)), remark: 'the first scored error' };
			return {
				expression: over(
					plus(times(figure(count - 1), figure(before)), size(figure(error(t)!))),
					figure(count),
				),
				remark: `the mean of ${count - 1} carried on by this one`,
			};
		}),
		column('signal', 'Signal', 'Eₜ ÷ Mₜ', { power: 0, decimals: 2 }, signal, (t) => ({
			expression: over(figure(cfe(t)!), figure(mad(t)!)),
		})),
	];
}

/** "Level = 0.3 × 412 + 0.7 × 399.1 = 403.0 (remark)": the sentence of one figure; null where it has none. */
export function sentence(column: TableColumn, t: number): string | null {
	const value = column.value(t);
	const spelled = column.explain(t);
	if (!spelled || value === null) return null;
	return spelledSentence(column.name, spelled, value, column.decimals);
}

/** The sentence of any spelled figure. */
export function spelledSentence(name: string, spelled: Spelled, value: number, decimals: number): string {
	const text = spellOut(spelled.expression, value, decimals);
	// A figure that is only taken over would read "47 = 47".
	const said = spelled.expression.kind === 'figure' ? text.slice(text.indexOf('=') + 2) : text;
	return `${name} = ${said}${spelled.remark ? ` (${spelled.remark})` : ''}`;
}

const PLAIN: Scale = { power: 0, decimals: 0 };

function scaleOfState({ places }: WorkingColumn, usual: Scale): Scale {
	if (!places) return usual;
	return 'fixed' in places
		? { power: 0, decimals: places.fixed }
		: { ...usual, decimals: usual.decimals + places.more };
}

function recordedOf(
	request: ValidRequest,
	candidate: Candidate,
	result: Evaluated,
	series: Series,
): Recorded & { days: Float64Array | undefined; first: Ordinal } {
	const { values, days, first, seasonLength } = series;
	const { fitted, states, line, indices, cycleLevels, figures } = result.perPeriod!;
	const periods = values.length - request.holdout;
	return {
		periods,
		seasonLength,
		seasonAt: (t) => seasonAt(series, t),
		ordinalAt: (t) => series.first + t - 1,
		candidate,
		start: result.start,
		line: line ?? null,
		value(t) {
			return figureAt(values, t - 1);
		},
		days,
		first,
		fitted(t) {
			const total = figureAt(fitted, t - 1);
			return total === null ? null : total / (days?.[t - 1] ?? 1);
		},
		state(key, t) {
			return figureAt(states[key], t - 1);
		},
		constant: (key) => result.constants[key]!,
		indices: (indices ?? null) as number[] | null,
		cycleLevels: cycleLevels ?? null,
		figure: (key) => figures?.[key] ?? null,
		parts: (result.parts ?? []).map(({ share, ahead }) => ({
			share,
			ahead: ahead.map((mean, index) =>
				mean === null || !days
					? mean
					: mean / daysIn(request.series.frequency, first + values.length + index),
			),
		})),
	};
}
