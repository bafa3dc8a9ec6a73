import { fixedFigure } from '$core/working/expression';

const THIN = '\u202f';

/** A figure with a number of decimals, thousands apart, a true minus sign; a dash where there is none. */
export function figure(value: number | null | undefined, decimals: number): string {
	if (value === null || value === undefined) return '–';
	const [whole = '', fraction] = fixedFigure(value, decimals).split('.');
	const grouped = whole.replace(/\B(?=(\d{3})+$)/g, THIN);
	return fraction ? `${grouped}.${fraction}` : grouped;
}
