/** A remark in plain words with the figures in it. */
export interface Note {
	/** Stable name for programs. */
	code: string;
	/** One or two sentences for a reader. */
	text: string;
	figures: Record<string, number | string | null>;
}
