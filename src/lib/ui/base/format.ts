import * as written from '$core/numbers/figure';
import { inMark } from '../../reader.svelte';

/** Figures as the reader writes them; the rules stand in `core/numbers/figure.ts`. */
type Value = number | null | undefined;
export const figure = (value: Value, decimals: number) => inMark(written.figure(value, decimals));
export const signed = (value: Value, decimals: number) => inMark(written.signed(value, decimals));
export const scaled = (value: Value, scale: written.Scale) => inMark(written.scaled(value, scale));
export const scaledSigned = (value: Value, scale: written.Scale) =>
	inMark(written.scaledSigned(value, scale));
export const typedFigure = (value: number) => inMark(written.typedFigure(value));
export const inWordsOn = (value: number, scale: written.Scale) => inMark(written.inWordsOn(value, scale));
/** A figure that stands among others by itself: on their scale, finer where it is much smaller, and on its own where theirs has a power of ten. */
export const amongOthers = (value: Value, usual: written.Scale): string =>
	value == null
		? '–'
		: inWordsOn(value, usual.power === 0 ? written.finerScale(usual, value) : written.scaleOf([value]));
export const inWords = (value: number) => inMark(written.inWords(value));

/** "3 Nov 2026, 14:05" in the reader's own time. */
export function moment(iso: string): string {
	return new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
}

/** A time of today: “10:42”; of another day with its date. */
export function clock(iso: string): string {
	const at = new Date(iso);
	if (at.toDateString() !== new Date().toDateString()) return moment(iso);
	return at.toLocaleTimeString('en-GB', { timeStyle: 'short' });
}
