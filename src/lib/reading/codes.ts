/** Codes and names in one cell. */

export interface CodeAndName {
	code: string;
	name: string;
}
/** Parts a label into code and name; null where it is written otherwise. */
export type CodeForm = (label: string) => CodeAndName | null;

const CODE = String.raw`[\p{Lu}\d][\p{Lu}\d./_-]{1,23}`;
const WORDS = String.raw`\p{L}.*`;
const form =
	(pattern: string, code: number): CodeForm =>
	(label) => {
		const found = new RegExp(`^${pattern}$`, 'u').exec(label.trim());
		return found ? { code: found[code]!, name: found[3 - code]!.trim() } : null;
	};
const FORMS: readonly CodeForm[] = [
	form(String.raw`\[(${CODE})\]\s*(${WORDS})`, 1),
	form(String.raw`\((${CODE})\)\s*(${WORDS})`, 1),
	form(String.raw`(${CODE})\s*[:|/]\s+(${WORDS})`, 1),
	form(String.raw`(${CODE})\s+\|\s+(${WORDS})`, 1),
	form(String.raw`(${CODE})\s+[-–—]+\s+(${WORDS})`, 1),
	form(String.raw`(${CODE})\s+(${WORDS})`, 1),
	form(String.raw`(${WORDS}?)\s*[([](${CODE})[)\]]`, 2),
	form(String.raw`(${WORDS}?)\s+[-–—|]\s+(${CODE})`, 2),
];

/** Whether something is a code rather than a size or a number of a list: a digit, and a letter or four digits. */
const isCode = (code: string): boolean =>
	code.length > 2 && /\d/.test(code) && (/\p{Lu}/u.test(code) || code.replace(/\D/g, '').length >= 4);

/**
 * The form in which all of some labels have a code of their own and a name; null where there is none. Labels whose names are mostly
 * the same name sizes of one thing: “M10 bolt”, “M12 bolt”.
 */
export function codeFormOf(labels: readonly string[]): CodeForm | null {
	const distinct = [...new Set(labels)].filter((label) => label !== '');
	if (distinct.length === 0) return null;
	for (const each of FORMS) {
		const parts = distinct.map(each);
		if (!parts.every((part) => part !== null && isCode(part.code))) continue;
		const codes = new Set(parts.map((part) => part!.code));
		const names = new Set(parts.map((part) => part!.name));
		// A year in brackets is no code of the one series that it stands beside.
		const told = distinct.length > 1 ? names.size > distinct.length / 2 : /\p{Lu}/u.test([...codes][0]!);
		if (codes.size === distinct.length && told) return each;
	}
	return null;
}
