/** How bytes are turned into text. */
export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];

/** The name of an encoding in sentences and choices. */
export const ENCODING_NAME: Readonly<Record<Encoding, string>> = {
	'utf-8': 'UTF-8',
	'utf-16le': 'UTF-16',
	'utf-16be': 'UTF-16, big end first',
	'windows-1252': 'Latin-1 (Windows)',
};

/**
 * Text from bytes: by its mark where it has one, by the zeros that UTF-16 leaves, else UTF-8, and Latin-1 where
 * the bytes are no UTF-8.
 * @returns the text and the encoding used; `guessed` where nothing in the bytes proves it
 */
export function decode(
	bytes: Uint8Array,
	wanted?: Encoding,
): { text: string; encoding: Encoding; guessed: boolean } {
	const encoding = wanted ?? marked(bytes) ?? zeros(bytes);
	if (encoding) return { text: new TextDecoder(encoding).decode(bytes), encoding, guessed: false };
	try {
		return {
			text: new TextDecoder('utf-8', { fatal: true }).decode(bytes),
			encoding: 'utf-8',
			guessed: false,
		};
	} catch {
		return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'windows-1252', guessed: true };
	}
}

function marked(bytes: Uint8Array): Encoding | null {
	const [a, b, c] = bytes;
	if (a === 0xef && b === 0xbb && c === 0xbf) return 'utf-8';
	if (a === 0xff && b === 0xfe) return 'utf-16le';
	return a === 0xfe && b === 0xff ? 'utf-16be' : null;
}

/** Digits and delimiters have a zero byte each in UTF-16, always on the same side. */
function zeros(bytes: Uint8Array): Encoding | null {
	const sample = bytes.subarray(0, 2000);
	let even = 0;
	let odd = 0;
	for (let i = 0; i < sample.length; i++) {
		if (sample[i] !== 0) continue;
		if (i % 2 === 0) even++;
		else odd++;
	}
	const half = sample.length / 2;
	if (half < 2) return null;
	if (odd > 0.7 * half && even < 0.1 * half) return 'utf-16le';
	return even > 0.7 * half && odd < 0.1 * half ? 'utf-16be' : null;
}
