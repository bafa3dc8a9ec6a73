import { cyclesOf, seasonOf } from '../seasons/cycles';
import { withIndex, withoutIndex } from '../seasons/indices';
import { slotOf } from '../seasons/two-seasons';
import type { Series } from '../series/series';
import { figure, minus, over } from '../working/expression';
import { carriedOn } from './carry';
import { takenOver } from './flat';
import type { CandidateInput } from '../contract/candidate';
import { defineMethod, type Method, type SettingsOf } from '../contract/method';
import type { Recorded, Working, WorkingColumn } from '../contract/working';
import type { Run } from '../contract/model';
import {
	completeIndices,
	completeSeasons,
	indexNotes,
	lentNotes,
	refuseNegative,
	refuseTyped,
	refuseWithoutSeason,
	spelledWithIndex,
} from './seasonal';
import { around } from './inner';
import { indexField, seasonField } from './season-fields';

const NAME = 'A deseasonalised series';

/**
 * Any method without a season, run on the series without its season: figures are divided by (or less) the indices of the
 * fitting span, and fitted values and forecasts get the season back.
 * @param methods those that may stand inside
 */
export function deseasonalised<M extends Method>(methods: readonly M[], initial: SettingsOf<M>) {
	const { field, insideOf, constantsOf } = around(methods, initial);
	return defineMethod({
		id: 'deseasonalised',
		name: 'Deseasonalised',
		fits: 'A season that repeats itself over a level that moves: taken out by its indices, forecast by a simple method, put back.',
		constants: [],
		constantsOf,
		fields: [seasonField, indexField, field],
		starts: [],
		label(candidate) {
			const inside = insideOf(candidate);
			const { shrink, seasons, lent } = indexField.read(candidate);
			const part = seasons
				? ' twice'
				: shrink
					? ' in part'
					: lent === 'group'
						? ' by its group'
						: lent
							? ' with its group'
							: '';
			return `Deseasonalised${part} ${seasonField.read(candidate) === 'additive' ? '+' : '×'} ${inside.method.label(inside.candidate)}`;
		},
		short(candidate) {
			const inside = insideOf(candidate);
			return `Index ${seasonField.read(candidate) === 'additive' ? '+' : '×'} ${inside.method.short(inside.candidate)}`;
		},
		kind(candidate) {
			const inside = insideOf(candidate);
			return inside.method.kind(inside.candidate);
		},
		follows(candidate) {
			const inside = insideOf(candidate);
			return {
				trend: inside.method.follows(inside.candidate).trend,
				season: seasonField.read(candidate),
			};
		},
		fitSteps: (_, { periods }, inner) => 8 * periods + inner({ periods, seasonLength: 1 }),
		bind(series, candidate) {
			const kind = seasonField.read(candidate);
			const input = indexField.read(candidate);
			refuseWithoutSeason(series, NAME, 'takes a season out');
			refuseNegative(series, kind);
			refuseTyped(series, kind, input);
			const cycles = cyclesOf(series);
			const both = input.seasons ? completeSeasons(series, kind, input, NAME) : null;
			const indices = both ? null : completeIndices(series, kind, input);
			const after = both?.first ?? indices!.after;
			const indexAt = both?.at ?? ((i: number) => after[seasonOf(cycles, i)]!);
			const bareOf = (whole: Series): Series => ({
				...whole,
				values: whole.values.map((value, i) => withoutIndex(kind, value, indexAt(i))),
			});
			const bare = bareOf(series);
			const inside = insideOf(candidate);
			const model = inside.method.bind(bare, inside.candidate);
			const n = series.values.length;
			const putBack = (fitted: Float64Array) => {
				for (let i = 0; i < fitted.length; i++) fitted[i] = withIndex(kind, fitted[i]!, indexAt(i));
			};
			const runOf = (run: Run, values: Float64Array, parameters: Float64Array): Run => {
				const fitted = run.fitted.slice();
				putBack(fitted);
				return {
					...run,
					// Ranges come from the errors with the season put back.
					spread: undefined,
					spreadOfSum: undefined,
					fitted,
					states: {
						...run.states,
						index: values.map((_, i) => indexAt(i)),
						...(both && {
							'index 1': values.map((_, i) => both.first[seasonOf(cycles, i)]!),
							'index 2': values.map((_, i) => both.second[both.slotAt(i)]!),
						}),
						bare: values,
						bareFitted: run.fitted,
					},
					indices: after,
					...(both && {
						figures: {
							...run.figures,
							...Object.fromEntries([...both.second].map((index, j) => [`second ${j + 1}`, index])),
						},
					}),
					remarks: [
						...(run.remarks ?? []),
						...indexNotes(series, kind, after),
						...(indices ? lentNotes(series, input, indices) : []),
					],
					forecast(origin, out) {
						run.forecast(origin, out);
						for (let h = 0; h < out.length; h++) out[h] = withIndex(kind, out[h]!, indexAt(origin + h));
					},
					// The indices stay those of the fitting span.
					over(longer) {
						const without = bareOf(longer);
						const constants = Object.fromEntries(
							model.parameters.map(({ key }, place) => [key, parameters[place]!]),
						);
						const carried = carriedOn(inside.method, inside.candidate, run, constants, without);
						return runOf(carried, without.values, parameters);
					},
				};
			};
			const { derivatives, ahead } = model;
			return {
				get firstFitted() {
					return model.firstFitted;
				},
				parameters: model.parameters,
				pass(parameters, fitted) {
					model.pass(parameters, fitted);
					putBack(fitted);
				},
				...(derivatives && {
					derivatives(parameters, wanted, fitted, rows) {
						derivatives.call(model, parameters, wanted, fitted, rows);
						putBack(fitted);
						if (kind === 'additive') return;
						for (let row = 0; row < wanted.length; row++) {
							for (let i = 0; i < n; i++) rows[row * n + i]! *= indexAt(i);
						}
					},
				}),
				run: (parameters) => runOf(model.run(parameters), bare.values, parameters.slice()),
				ahead(parameters, out) {
					if (ahead) ahead.call(model, parameters, out);
					else model.run(parameters).forecast(n, out);
					for (let h = 0; h < out.length; h++) out[h] = withIndex(kind, out[h]!, indexAt(n + h));
				},
			};
		},
		working(candidate) {
			const inside = insideOf(candidate);
			return workingAround(candidate, inside.method.working(inside.candidate), inside.candidate);
		},
	});
}

/** The inner method's working on the figures without their season, with the season taken out before and put back after. */
function workingAround(candidate: CandidateInput, inner: Working, inside: CandidateInput): Working {
	const kind = seasonField.read(candidate);
	const twice = indexField.read(candidate).seasons;
	const within = (recorded: Recorded): Recorded => ({
		...recorded,
		candidate: inside,
		value: (t) => recorded.state('bare', t),
		fitted: (t) => recorded.state('bareFitted', t),
	});
	const inward = (column: WorkingColumn): WorkingColumn => ({
		...column,
		explain: (recorded, t) => column.explain(within(recorded), t),
	});
	return {
		forecast: {
			key: 'fitted',
			name: inner.forecast.name,
			equation: kind === 'additive' ? 'fₜ = f′ₜ + iⱼ' : 'fₜ = f′ₜ·iⱼ',
			explain(recorded, t) {
				const bare = recorded.state('bareFitted', t);
				return bare === null
					? null
					: { expression: spelledWithIndex(kind, figure(bare), recorded.state('index', t)!) };
			},
		},
		states: [
			{
				key: 'index',
				name: 'Index',
				equation: 'iⱼ',
				...(kind === 'multiplicative' && { places: { fixed: 4 } }),
				explain: (recorded, t) =>
					twice
						? {
								expression: spelledWithIndex(
									kind,
									figure(recorded.state('index 1', t)!),
									recorded.state('index 2', t)!,
								),
								remark: `the ${twice[0]}’s and the ${twice[1]}’s`,
							}
						: takenOver(
								recorded.state('index', t),
								`season ${recorded.seasonAt(t)}; Season shows how it is made`,
							),
			},
			{
				key: 'bare',
				name: 'Deseasonalised',
				equation: kind === 'additive' ? 'y′ₜ = yₜ − iⱼ' : 'y′ₜ = yₜ ÷ iⱼ',
				explain(recorded, t) {
					const value = recorded.value(t);
					if (value === null) return null;
					const index = figure(recorded.state('index', t)!);
					return {
						expression: kind === 'additive' ? minus(figure(value), index) : over(figure(value), index),
					};
				},
			},
			{
				...inward(inner.forecast),
				key: 'bareFitted',
				name: `${inner.forecast.name} without season`,
				equation: inner.forecast.equation.replace('fₜ', 'f′ₜ').replaceAll('y', 'y′'),
			},
			...inner.states.map(inward),
		],
		ahead: `f′ by ${inner.ahead}, then ${kind === 'additive' ? '+ iⱼ' : '· iⱼ'}`,
		explainAhead(recorded, step) {
			const spelled = inner.explainAhead(within(recorded), step);
			const index = recorded.indices?.[recorded.seasonAt(recorded.periods + step) - 1];
			if (!spelled || index === undefined) return null;
			const once = spelledWithIndex(kind, spelled.expression, index);
			if (!twice) return { ...spelled, expression: once };
			const slot = slotOf(twice, recorded.ordinalAt(recorded.periods + step));
			return {
				...spelled,
				expression: spelledWithIndex(kind, once, recorded.figure(`second ${slot + 1}`)!),
			};
		},
	};
}
