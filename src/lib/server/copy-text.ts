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
