import { BOUNDS } from '$core/bounds';
import { isFreeKey, plainText } from '$core/schemas';

/** A value in the text that COPY reads. */
const copyValue = (value: string | number | null): string =>
	value === null
		? '\\N'
		: typeof value === 'number'
			? String(value)
			: value.replace(/[\\\t\n\r]/g, (mark) => `\\${{ '\\': '\\', '\t': 't', '\n': 'n', '\r': 'r' }[mark]}`);

/** A row in the text that COPY reads. */
export const copyLine = (...values: (string | number | null)[]): string =>
	`${values.map(copyValue).join('\t')}\n`;

/** An item's labels as JSON: those that are given, cut to what is kept, without what cannot be seen, and of no kind that no record may have. */
export const labelsAsJson = (names: readonly string[], labels: readonly string[]): string =>
	JSON.stringify(
		Object.fromEntries(
			names.flatMap((name, i) => {
				const label = plainText(labels[i] ?? '')
					.slice(0, BOUNDS.labelValue)
					.trim();
				const of = plainText(name);
				return label === '' || !isFreeKey(of) ? [] : [[of, label]];
			}),
		),
	);
