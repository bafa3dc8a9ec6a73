import type { Mark } from '$core/series/layers';
import { MARK_COLOUR } from './marks';

/** Colours of the theme as charts need them. */
export interface Palette {
	paper: string;
	panel: string;
	wash: string;
	rule: string;
	edge: string;
	ink: string;
	ink2: string;
	accent: string;
	warn: string;
	bad: string;
	candidates: string[];
	/** Colour of each mark on the strip. */
	marks: Record<Mark, string>;
}

/** Dash pattern of each place in the line-up: with colour, so that colour is never the only sign. */
export const DASHES: readonly (readonly number[])[] = [
	[],
	[7, 3],
	[2, 3],
	[9, 3, 2, 3],
	[5, 2],
	[1, 3],
	[12, 4],
	[6, 2, 1, 2, 1, 2],
];

/** Reads the tokens that the style sheet sets. */
export function readPalette(element: Element): Palette {
	const style = getComputedStyle(element);
	const token = (name: string) => style.getPropertyValue(`--${name}`).trim();
	return {
		paper: token('paper'),
		panel: token('panel'),
		wash: token('wash'),
		rule: token('rule'),
		edge: token('edge'),
		ink: token('ink'),
		ink2: token('ink-2'),
		accent: token('accent'),
		warn: token('warn'),
		bad: token('bad'),
		candidates: DASHES.map((_, i) => token(`candidate-${i + 1}`)),
		marks: Object.fromEntries(
			Object.entries(MARK_COLOUR).map(([mark, name]) => [mark, token(name.slice(2))]),
		) as Record<Mark, string>,
	};
}
