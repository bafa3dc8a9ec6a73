/**
 * Works a sentence out the way a reader with a calculator would: "Level = 0.3 × 412 + 0.7 × 399.1 = 403.0".
 * Written apart from the expressions that made the sentence.
 */
export function workOut(text: string): { worth: number; shown: string } {
	const bare = text.replaceAll('\u202f', '').replace(/ \((?=[a-z0-9 ]*[a-z])[^()]*\)$/, '');
	const parts = bare.split(' = ').slice(1);
	const shown = parts.at(-1)!;
	const tokens = (parts.length > 1 ? parts[0]! : shown).match(/\d+(\.\d+)?|[()|+−×÷]/g)!;
	let position = 0;
	const primary = (): number => {
		const token = tokens[position++]!;
		if (token === '(' || token === '|') {
			const value = sum();
			position++;
			return token === '|' ? Math.abs(value) : value;
		}
		return token === '−' ? -primary() : Number(token);
	};
	const product = (): number => {
		let value = primary();
		while (tokens[position] === '×' || tokens[position] === '÷') {
			value = tokens[position++] === '×' ? value * primary() : value / primary();
		}
		return value;
	};
	const sum = (): number => {
		let value = product();
		while (tokens[position] === '+' || tokens[position] === '−') {
			value = tokens[position++] === '+' ? value + product() : value - product();
		}
		return value;
	};
	return { worth: sum(), shown };
}
