import type { DecimalMark } from './reading/figures';

const KEPT = 'ventrel decimal mark';

/** How whoever reads this writes figures: as their browser's language does, until they say otherwise. */
class Reader {
	mark: DecimalMark = $state('.');

	/** Takes up what this browser kept, or what its language says. */
	adopt(): void {
		const kept = localStorage.getItem(KEPT);
		const usual = new Intl.NumberFormat(navigator.language)
			.formatToParts(1.5)
			.find(({ type }) => type === 'decimal')?.value;
		this.mark = (kept ?? usual) === ',' ? ',' : '.';
	}

	/** Changes between point and comma, for good in this browser. */
	toggle(): void {
		this.mark = this.mark === '.' ? ',' : '.';
		localStorage.setItem(KEPT, this.mark);
	}
}

export const reader = new Reader();

/** A figure, or a sentence with figures in it, with the reader's decimal mark; what is quoted stays as it is. No line ends before a %. */
export function inMark(sentence: string): string {
	const text = sentence.replaceAll(' %', '\u00a0%');
	if (reader.mark === '.') return text;
	return text.replace(/“[^”]*”|(\d)\.(?=\d)/g, (whole, digit?: string) =>
		digit === undefined ? whole : `${digit},`,
	);
}
