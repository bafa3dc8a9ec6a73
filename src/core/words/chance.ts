import { figure } from '../numbers/figure';

/** A share as a percentage that is never rounded to none or all: “under 1 %”, “99.9 %”. */
export function percent(share: number): string {
	const rounded = Math.round(100 * share);
	if (share <= 0 || share >= 1 || (rounded > 0 && rounded < 100)) return `${rounded} %`;
	if (rounded === 0) return 'under 1 %';
	const tenths = Math.round(1000 * share) / 10;
	return tenths < 100 ? `${figure(tenths, 1)} %` : 'over 99.9 %';
}

/** Two digits are all that a simulated chance is good for. */
const inTwoDigits = (count: number) => figure(Number(count.toPrecision(2)), 0);

/** A chance in the one form that chances have here: “about 1 in 20 forecasts”. @param of what it is a chance of, several of them */
export function chanceWords(chance: number, of: string): string {
	if (chance < 0.001) return `fewer than 1 in 1\u202f000 ${of}`;
	if (chance < 0.35) return `about 1 in ${inTwoDigits(1 / chance)} ${of}`;
	return chance < 0.95 ? `about ${Math.round(10 * chance)} in 10 ${of}` : `nearly all ${of}`;
}
