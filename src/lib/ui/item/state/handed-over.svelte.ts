import {
	type Change,
	changedTo,
	finalFigure,
	keptChange,
	NO_ROUNDING,
	type Rounding,
} from '$core/grading/final';
import type { Ordinal } from '$core/series/period';
import type { Adopt, AdoptedForecast } from '../../../wire/records';

/** A figure put in by hand, and why; without a reason nothing is adopted. */
interface ByHand {
	by: Change['by'];
	reason: string;
}

/** What is put in place of computed figures before they are handed over: by hand, period by period, and by rounding. */
export class HandedOver {
	/** By the ordinal of its period: another candidate, or more periods ahead, leave it where it is. */
	changes: Readonly<Record<Ordinal, ByHand>> = $state.raw({});
	rounding: Rounding = $state.raw(NO_ROUNDING);

	/**
	 * Begins with what the record before says of periods that are still ahead, as carrying it on would.
	 * @param origin ordinal of the last period known
	 */
	constructor(adopted: AdoptedForecast | null, origin: Ordinal) {
		this.rounding = adopted?.rounding ?? NO_ROUNDING;
		this.changes = Object.fromEntries(
			(adopted?.steps ?? []).flatMap(({ period, changedTo, changeRate, changeReason }) => {
				const by = keptChange(changedTo, changeRate);
				return by && period > origin ? [[period, { by, reason: changeReason ?? '' }]] : [];
			}),
		);
	}

	/** What is handed over for a period; null where nothing is computed. */
	finalOf(period: Ordinal, mean: number | null): number | null {
		return mean === null ? null : finalFigure(mean, this.changes[period]?.by, this.rounding);
	}

	/** The figure put in by hand, before rounding; null where there is none. */
	byHand(period: Ordinal, mean: number | null): number | null {
		return mean === null ? null : changedTo(mean, this.changes[period]?.by);
	}

	/** Puts something in place of the figures of some periods, for a reason that is given now or later. */
	change(periods: readonly Ordinal[], by: Change['by'], reason = ''): void {
		const put = periods.map((period) => [period, { by, reason }]);
		this.changes = { ...this.changes, ...Object.fromEntries(put) };
	}

	/** Takes changes back: of some periods, or all. */
	takeBack(periods: readonly Ordinal[] | null = null): void {
		this.changes = Object.fromEntries(
			Object.entries(this.changes).filter(([period]) => periods && !periods.includes(Number(period))),
		);
	}

	/** Why the changes were made that have no reason yet. */
	explain(reason: string): void {
		this.changes = Object.fromEntries(
			Object.entries(this.changes).map(([period, each]) => [
				period,
				each.reason === '' ? { ...each, reason } : each,
			]),
		);
	}

	/** Periods that were changed without a reason. */
	unexplained(from: Ordinal, to: Ordinal): Ordinal[] {
		return Object.entries(this.changes)
			.filter(([period, { reason }]) => reason === '' && Number(period) >= from && Number(period) <= to)
			.map(([period]) => Number(period));
	}

	get isRounded(): boolean {
		return this.rounding.pack !== null || this.rounding.floor !== null;
	}

	/** As it is adopted. */
	request(origin: Ordinal, horizon: number): Pick<Adopt, 'changes' | 'rounding'> {
		return {
			changes: Object.entries(this.changes)
				.map(([period, each]) => ({ step: Number(period) - origin, ...each }))
				.filter(({ step }) => step >= 1 && step <= horizon),
			rounding: this.isRounded ? this.rounding : null,
		};
	}
}
