import type { Mark } from '$core/series/layers';

/** Shape of each mark in a box of 10 by 10: told apart without colour. */
export const MARK_PATH: Readonly<Record<Mark, { path: string; filled: boolean }>> = {
	gap: { path: 'M2 0V10M8 0V10', filled: false },
	filled: { path: 'M5 0L10 5L5 10L0 5Z', filled: false },
	'left-out': { path: 'M0 0L10 10M10 0L0 10', filled: false },
	corrected: { path: 'M0 0H10V10H0Z', filled: false },
	event: { path: 'M1 0H9V5L5 10L1 5Z', filled: true },
};

/** The token that each mark is drawn in. */
export const MARK_COLOUR: Readonly<Record<Mark, string>> = {
	gap: '--ink',
	filled: '--ink-2',
	'left-out': '--bad',
	corrected: '--warn',
	event: '--accent',
};

export const MARK_WORDS: Readonly<Record<Mark, string>> = {
	gap: 'missing',
	filled: 'filled',
	'left-out': 'left out',
	corrected: 'corrected',
	event: 'event',
};
