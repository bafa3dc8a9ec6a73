/**
 * The recursions themselves: one specialised loop per structure of trend and season, nothing allocated, since
 * a search calls them thousands of times. They run in the form of errors (ℓ_t = p_t + α e_t), which is the
 * recursion of docs/methods.md with its terms collected: fewer operations wait for each other from one period to
 * the next. At a missing actual (NaN) the state takes the forecast's own step.
 *
 * Shared by all: `values` n actuals, NaN where missing; `at` the period at whose end the start stands, so that the
 * first fitted value is at + 1; `fitted` receives fitted values from index `at` on, what stands before is left
 * alone. A comparison with itself tells NaN: it costs less here than a call.
 */

/**
 * Level only: f_t = ℓ_{t−1}, ℓ_t = α y_t + (1−α) ℓ_{t−1}.
 *
 * Runs on deviations from the start: two operations deep from one period to the next instead of three, and a
 * constant series comes out as itself to the last bit.
 */
export function levelPass(
	values: Float64Array,
	at: number,
	level: number,
	alpha: number,
	fitted: Float64Array,
): void {
	const n = values.length;
	const keep = 1 - alpha;
	let deviation = 0;
	for (let i = at; i < n; i++) {
		fitted[i] = level + deviation;
		const news = values[i]! - level;
		if (news === news) deviation = alpha * news + keep * deviation;
	}
}

/**
 * Level and trend: f_t = ℓ_{t−1} + φ b_{t−1}; φ = 1 where the trend is not damped. Carries φb instead of b, so that
 * damping takes no time of its own.
 */
export function trendPass(
	values: Float64Array,
	at: number,
	level: number,
	trend: number,
	alpha: number,
	beta: number,
	phi: number,
	fitted: Float64Array,
): void {
	const n = values.length;
	const turn = phi * alpha * beta;
	let step = phi * trend;
	let next = level + step;
	for (let i = at; i < n; i++) {
		fitted[i] = next;
		const error = values[i]! - next;
		if (error === error) {
			const reached = next + alpha * error;
			step = phi * step + turn * error;
			next = reached + step;
		} else {
			step *= phi;
			next += step;
		}
	}
}

/**
 * Level and an additive season: f_t = ℓ_{t−1} + s_{t−P}.
 * @param season P season values, moved on in place
 * @param first index in `season` of period at + 1
 */
export function addedPass(
	values: Float64Array,
	at: number,
	level: number,
	season: Float64Array,
	first: number,
	alpha: number,
	gamma: number,
	fitted: Float64Array,
): void {
	const n = values.length;
	const length = season.length;
	const turn = gamma * (1 - alpha);
	let place = first;
	for (let i = at; i < n; i++) {
		const own = season[place]!;
		const forecast = level + own;
		fitted[i] = forecast;
		const error = values[i]! - forecast;
		if (error === error) {
			level += alpha * error;
			season[place] = own + turn * error;
		}
		if (++place === length) place = 0;
	}
}

/** Level, trend and an additive season: f_t = ℓ_{t−1} + φ b_{t−1} + s_{t−P}. */
export function addedTrendPass(
	values: Float64Array,
	at: number,
	level: number,
	trend: number,
	season: Float64Array,
	first: number,
	alpha: number,
	beta: number,
	gamma: number,
	phi: number,
	fitted: Float64Array,
): void {
	const n = values.length;
	const length = season.length;
	const turn = phi * alpha * beta;
	const turnSeason = gamma * (1 - alpha);
	let step = phi * trend;
	let next = level + step;
	let place = first;
	for (let i = at; i < n; i++) {
		const own = season[place]!;
		fitted[i] = next + own;
		const error = values[i]! - own - next;
		if (error === error) {
			const reached = next + alpha * error;
			step = phi * step + turn * error;
			next = reached + step;
			season[place] = own + turnSeason * error;
		} else {
			step *= phi;
			next += step;
		}
		if (++place === length) place = 0;
	}
}

/** Level and a multiplicative season: f_t = ℓ_{t−1} · s_{t−P}. */
export function multipliedPass(
	values: Float64Array,
	at: number,
	level: number,
	season: Float64Array,
	first: number,
	alpha: number,
	gamma: number,
	fitted: Float64Array,
): void {
	const n = values.length;
	const length = season.length;
	const keep = 1 - alpha;
	const keepSeason = 1 - gamma;
	let place = first;
	for (let i = at; i < n; i++) {
		const own = season[place]!;
		fitted[i] = level * own;
		const value = values[i]!;
		if (value === value) {
			level = (alpha * value) / own + keep * level;
			season[place] = (gamma * value) / level + keepSeason * own;
		}
		if (++place === length) place = 0;
	}
}

/** Level, trend and a multiplicative season: f_t = (ℓ_{t−1} + φ b_{t−1}) · s_{t−P}. */
export function multipliedTrendPass(
	values: Float64Array,
	at: number,
	level: number,
	trend: number,
	season: Float64Array,
	first: number,
	alpha: number,
	beta: number,
	gamma: number,
	phi: number,
	fitted: Float64Array,
): void {
	const n = values.length;
	const length = season.length;
	const turn = phi * alpha * beta;
	const keepSeason = 1 - gamma;
	let step = phi * trend;
	let next = level + step;
	let place = first;
	for (let i = at; i < n; i++) {
		const own = season[place]!;
		fitted[i] = next * own;
		const value = values[i]!;
		if (value === value) {
			const error = value / own - next;
			const reached = next + alpha * error;
			step = phi * step + turn * error;
			next = reached + step;
			season[place] = (gamma * value) / reached + keepSeason * own;
		} else {
			step *= phi;
			next += step;
		}
		if (++place === length) place = 0;
	}
}
