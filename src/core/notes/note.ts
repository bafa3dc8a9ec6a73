/** A remark in plain words with the figures in it. */
export interface Note {
	/** Stable name for programs. */
	code: string;
	/** One or two sentences for a reader. */
	text: string;
	figures: Record<string, number | string | null>;
}

/** A figure in a sentence: as many decimals as its size deserves, thousands apart, a true minus sign. */
export function inWords(value: number): string {
	const size = Math.abs(value);
	const decimals = size >= 100 ? 0 : size >= 10 ? 1 : 2;
	const [whole = '', fraction] = size.toFixed(decimals).split('.');
	const grouped = whole.replace(/\B(?=(\d{3})+$)/g, '\u202f');
	return `${value < 0 ? '−' : ''}${grouped}${fraction ? `.${fraction}` : ''}`;
}
