import { percentScale, type Scale, scaled, scaledSigned, scaleOf } from '../numbers/figure';
import { type MeasureId, MEASURES, type Measures } from './measures';
import { RUNNING_LIMIT, signalWords } from './tracking';

/** What has no unit: two places. */
export const RATIO_SCALE: Scale = { power: 0, decimals: 2 };

/** The scale of a column of a measure; all that are in units of demand share MAD’s. */
export function measureScale(id: MeasureId, column: readonly (Measures | null | undefined)[]): Scale {
	const of = (each: MeasureId) => column.map((measures) => measures?.[each]);
	switch (MEASURES[id].unit) {
		case 'demand':
			return scaleOf(of('mad'));
		case 'demand squared':
			return scaleOf(of(id));
		case 'percent':
			return percentScale(of(id));
		case 'ratio':
		case 'signal':
			return RATIO_SCALE;
	}
}

/** A figure of a measure under a head that says what it is in; with its sign where 0 is the best. */
export function measureWords(id: MeasureId, value: number | null | undefined, scale: Scale): string {
	const { unit, better } = MEASURES[id];
	if (unit === 'signal') return signalWords(value ?? null, RUNNING_LIMIT);
	return better === 'near zero' ? scaledSigned(value, scale) : scaled(value, scale);
}

/** The same where no head says what it is in. */
export const measureInWords = (id: MeasureId, value: number | null | undefined, scale: Scale): string =>
	`${measureWords(id, value, scale)}${value != null && MEASURES[id].unit === 'percent' ? ' %' : ''}`;
