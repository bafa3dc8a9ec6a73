/**
 * Uniform numbers in [0, 1) from a seed, the same on every machine.
 * 32-bit generator after Steele & Vigna's SplitMix family, with a murmur-style finaliser.
 */
export function seededUniform(seed: number): () => number {
	let state = seed >>> 0;
	return () => {
		state = (state + 0x9e3779b9) >>> 0;
		let mixed = state;
		mixed = Math.imul(mixed ^ (mixed >>> 16), 0x21f0aaad);
		mixed = Math.imul(mixed ^ (mixed >>> 15), 0x735a2d97);
		return ((mixed ^ (mixed >>> 15)) >>> 0) / 4294967296;
	};
}

/** Standard normal numbers from a seed (Box & Muller 1958, both numbers of a pair used). */
export function seededNormal(seed: number): () => number {
	const uniform = seededUniform(seed);
	let spare: number | null = null;
	return () => {
		if (spare !== null) {
			const value = spare;
			spare = null;
			return value;
		}
		const radius = Math.sqrt(-2 * Math.log(1 - uniform()));
		const angle = 2 * Math.PI * uniform();
		spare = radius * Math.sin(angle);
		return radius * Math.cos(angle);
	};
}
