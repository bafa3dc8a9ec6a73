import { cyclesOf } from '../seasons/cycles';
import type { Series } from '../series/series';
import { parametersOf } from './carry';
import { fixedModel } from './flat';
import { CannotRun, defineMethod, type Method, type SettingsOf } from '../contract/method';
import type { CandidateInput, Start } from '../contract/candidate';
import type { Model, Run } from '../contract/model';
import type { Recorded, Working } from '../contract/working';
import { refuseWithoutSeason, seasonWords } from './seasonal';
import { around } from './inner';

const NAME = 'Each season by itself';

/** One season's own past: all first quarters, say. */
interface Own {
	/** 0-based position of its first period; from there every P-th. */
	from: number;
	count: number;
	model: Model;
}

/**
 * Each season forecast from its own past alone, by an inner method with the same constants in all of them. The next cycle's
 * value of a season is made when that season's last one is known, a cycle before.
 * @param methods those that may stand inside
 */
export function perSeason<M extends Method>(methods: readonly M[], initial: SettingsOf<M>) {
	const { field, insideOf, constantsOf } = around(methods, initial);
	return defineMethod({
		id: 'per-season',
		name: NAME,
		fits: 'Seasons that develop differently: all first quarters by themselves, all second ones by themselves.',
		constants: [],
		constantsOf,
		fields: [field],
		starts: [],
		label(candidate) {
			const inside = insideOf(candidate);
			return `Each season: ${inside.method.label(inside.candidate)}`;
		},
		short: () => 'Each season',
		kind: () => 'cycle',
		onlyPastFrom(candidate, { periods, seasonLength }) {
			const inside = insideOf(candidate);
			// One that fits is fitted anew for each value.
			if (inside.method.kind(inside.candidate) === 'fit') return 0;
			const each = { periods: Math.floor(periods / seasonLength), seasonLength: 1 };
			return inside.method.onlyPastFrom?.(inside.candidate, each) === 0 ? 0 : Infinity;
		},
		follows(candidate) {
			const inside = insideOf(candidate);
			return { trend: inside.method.follows(inside.candidate).trend, season: 'any' };
		},
		fitSteps: (_, { periods, seasonLength }, inner) =>
			seasonLength * inner({ periods: periods / seasonLength + 1, seasonLength: 1 }),
		bind(series, candidate) {
			refuseWithoutSeason(series, NAME, 'takes seasons apart');
			const inside = insideOf(candidate);
			const rule = inside.candidate.start?.rule;
			if (rule === 'given' || rule === 'optimised') {
				throw new CannotRun({
					code: 'start-in-each-season',
					text: `${NAME} starts again in each season, so that a start that is ${rule === 'given' ? 'given' : 'searched'} fits at most one of them. Start by another rule.`,
					figures: {},
				});
			}
			return seasonsModel(series, inside.method, inside.candidate);
		},
		working(candidate) {
			const inside = insideOf(candidate);
			return workingOf(inside.method.working(inside.candidate), inside.candidate);
		},
	});
}

function seasonsModel(series: Series, method: Method, candidate: CandidateInput): Model {
	const { values, seasonLength: length } = series;
	const n = values.length;
	const { lead } = cyclesOf(series);
	const ownOf = (j: number): Series => {
		const from = (j - lead + length) % length;
		const count = Math.max(0, Math.ceil((n - from) / length));
		return {
			values: Float64Array.from({ length: count }, (_, k) => values[from + k * length]!),
			frequency: 'step',
			first: 1,
			seasonLength: 1,
		};
	};
	const seasons = Array.from({ length }, (_, j): Own => {
		const own = ownOf(j);
		const model = boundTo(series, own, method, candidate, j);
		return {
			from: (j - lead + length) % length,
			count: own.values.length,
			// A method that fits is fitted anew for each value, to what was known a cycle before.
			model: method.kind(candidate) === 'fit' ? fixedModel(fittedAnew(own, method, candidate)) : model,
		};
	});
	const scratch = seasons.map(({ count }) => new Float64Array(count));
	const first = seasons[0]!.model;
	const put = (list: Float64Array, { from }: Own, whole: Float64Array) => {
		for (let k = 0; k < list.length; k++) whole[from + k * length] = list[k]!;
	};
	const scored = Math.min(...seasons.map(({ from, model }) => from + (model.firstFitted - 1) * length));
	const derivatives = seasons.every(({ model }) => model.derivatives);
	return {
		firstFitted: scored + 1,
		parameters: first.parameters,
		pass(parameters, fitted) {
			seasons.forEach((own, j) => {
				own.model.pass(parameters, scratch[j]!);
				put(scratch[j]!, own, fitted);
			});
		},
		...(derivatives && {
			derivatives(parameters, wanted, fitted, rows) {
				seasons.forEach((own, j) => {
					const part = new Float64Array(wanted.length * own.count);
					own.model.derivatives!(parameters, wanted, scratch[j]!, part);
					put(scratch[j]!, own, fitted);
					for (let row = 0; row < wanted.length; row++) {
						put(
							part.subarray(row * own.count, (row + 1) * own.count),
							own,
							rows.subarray(row * n, (row + 1) * n),
						);
					}
				});
			},
		}),
		run(parameters) {
			const runs = seasons.map(({ model }) => model.run(parameters));
			const fitted = new Float64Array(n).fill(NaN);
			const states: Record<string, Float64Array> = {};
			const figures: Record<string, number> = {};
			runs.forEach((run, j) => {
				put(run.fitted, seasons[j]!, fitted);
				for (const key in run.states) {
					states[key] ??= new Float64Array(n).fill(NaN);
					put(run.states[key]!, seasons[j]!, states[key]);
				}
				if (run.start) {
					figures[`start at ${j + 1}`] = run.start.at;
					figures[`start level ${j + 1}`] = run.start.level;
					if (run.start.trend !== undefined) figures[`start trend ${j + 1}`] = run.start.trend;
				}
				if (run.line) {
					figures[`base ${j + 1}`] = run.line.intercept;
					figures[`slope ${j + 1}`] = run.line.slope;
				}
			});
			return {
				fitted,
				start: null,
				states,
				figures,
				forecast(origin, out) {
					for (let j = 0; j < length; j++) {
						const { from } = seasons[j]!;
						const known = Math.max(0, Math.ceil((origin - from) / length));
						const next = from + known * length - origin;
						if (next >= out.length) continue;
						const own = new Float64Array(Math.ceil((out.length - next) / length));
						runs[j]!.forecast(known, own);
						own.forEach((value, k) => (out[next + k * length] = value));
					}
				},
			};
		},
	};
}

/** Binds the inner method to one season. */
function boundTo(series: Series, own: Series, method: Method, candidate: CandidateInput, j: number): Model {
	try {
		return method.bind(own, candidate);
	} catch (error) {
		if (!(error instanceof CannotRun)) throw error;
		const { note } = error;
		throw new CannotRun({
			code: note.code,
			text: `${seasonWords(series, j + 1).replace(/^s/, 'S')} by itself has ${own.values.length} ${own.values.length === 1 ? 'period' : 'periods'}. ${note.text}`,
			figures: { ...note.figures, season: j + 1 },
		});
	}
}

/** Every value of one season from a fit to those before it alone; the line of the last fit goes on ahead. */
function fittedAnew(own: Series, method: Method, candidate: CandidateInput): Run {
	const count = own.values.length;
	const known = Array.from({ length: count + 1 }, (_, upTo): Run | null => {
		try {
			const model = method.bind({ ...own, values: own.values.subarray(0, upTo) }, candidate);
			return model.run(parametersOf(model, candidate.constants ?? {}));
		} catch (error) {
			if (error instanceof CannotRun) return null;
			throw error;
		}
	});
	const forecast = (origin: number, out: Float64Array) => {
		out.fill(NaN);
		known[origin]?.forecast(origin, out);
	};
	const one = new Float64Array(1);
	const fitted = new Float64Array(count).map((_, i) => {
		forecast(i, one);
		return one[0]!;
	});
	const state = (key: 'intercept' | 'slope') =>
		Float64Array.from({ length: count }, (_, i) => known[i]?.line?.[key] ?? NaN);
	const { line } = known[count] ?? {};
	return {
		fitted,
		start: null,
		states: { base: state('intercept'), slope: state('slope') },
		forecast,
		...(line && { line }),
	};
}

/** The inner method's working, told of one season's own past. */
function workingOf(inner: Working, candidate: CandidateInput): Working {
	const within = (recorded: Recorded, t: number): { own: Recorded; k: number } => {
		const length = recorded.seasonLength;
		const j = recorded.seasonAt(t);
		const first = ((t - 1) % length) + 1;
		const at = (k: number) => first + (k - 1) * length;
		const level = recorded.figure(`start level ${j}`);
		const trend = recorded.figure(`start trend ${j}`);
		const base = recorded.figure(`base ${j}`);
		const k = (t - first) / length + 1;
		const [then, slope] = [recorded.state('base', t), recorded.state('slope', t)];
		const start: Start | null =
			level === null
				? null
				: {
						rule: 'given',
						at: recorded.figure(`start at ${j}`) ?? 0,
						level,
						...(trend !== null && { trend }),
					};
		const line =
			t <= recorded.periods
				? then === null
					? null
					: { intercept: then, slope: slope! }
				: base === null
					? null
					: { intercept: base, slope: recorded.figure(`slope ${j}`)! };
		return {
			k,
			own: {
				...recorded,
				periods: Math.floor((recorded.periods - first) / length) + 1,
				seasonLength: 1,
				seasonAt: () => 1,
				candidate,
				start,
				line,
				value: (i) => (i < 1 ? null : recorded.value(at(i))),
				fitted: (i) => (i < 1 ? null : recorded.fitted(at(i))),
				state: (key, i) => (i < 1 ? null : recorded.state(key, at(i))),
			},
		};
	};
	const remark = (said: string | undefined, recorded: Recorded, t: number) => {
		const own = `season ${recorded.seasonAt(t)} by itself`;
		return !said || said.startsWith('laid through') ? own : `${own}: ${said}`;
	};
	return {
		forecast: {
			...inner.forecast,
			name: 'Forecast',
			explain(recorded, t) {
				const { own, k } = within(recorded, t);
				const spelled = inner.forecast.explain(own, k);
				return spelled && { ...spelled, remark: remark(spelled.remark, recorded, t) };
			},
		},
		states: inner.states.map((column) => ({
			...column,
			explain(recorded, t) {
				const { own, k } = within(recorded, t);
				return column.explain(own, k);
			},
		})),
		ahead: `in each season by itself: ${inner.ahead}`,
		explainAhead(recorded, step) {
			const t = recorded.periods + step;
			const { own, k } = within(recorded, t);
			return inner.explainAhead(own, k - own.periods);
		},
	};
}
