/** Points spread evenly over the unit cube, and which of them lie near each other. */
export interface EvenPoints {
	/** k coordinates a point, 0 … 1. */
	shares: Float64Array;
	/** For each point, its places among those of the list that lie near it: where some six are expected. */
	near: readonly (readonly number[])[];
}

/** How far the spread reaches beyond both ends, so that some of its points lie on the bounds. */
const BEYOND = 0.06;
/** Expected points near each one. */
const NEIGHBOURS = 6;
/** Volume of the ball of radius 1, by the number of dimensions. */
const BALLS = [1, 2, Math.PI, (4 / 3) * Math.PI, Math.PI ** 2 / 2];

/** Kept since every search over as many constants and periods begins with the same ones; this many at the most. */
const made = new Map<string, EvenPoints>();
const MOST_KEPT = 64;

/**
 * The first `count` of an endless list of points in k dimensions: multiples of powers of 1/ρ, ρ the root of
 * ρ^(k+1) = ρ + 1, which fill the cube evenly however many are taken (Roberts 2018).
 */
export function evenPoints(k: number, count: number): EvenPoints {
	const key = `${k} ${count}`;
	const known = made.get(key);
	if (known) return known;
	if (made.size === MOST_KEPT) made.clear();
	let root = 2;
	for (let i = 0; i < 60; i++) root = (1 + root) ** (1 / (k + 1));
	const shares = Float64Array.from({ length: k * count }, (_, entry) => {
		const [i, axis] = [Math.floor(entry / k), entry % k];
		const even = (0.5 + (i + 1) * root ** -(axis + 1)) % 1;
		return Math.min(1, Math.max(0, even * (1 + 2 * BEYOND) - BEYOND));
	});
	const points = { shares, near: neighbours(shares, k, count) };
	made.set(key, points);
	return points;
}

function neighbours(shares: Float64Array, k: number, count: number): number[][] {
	const near = Array.from({ length: count }, (): number[] => []);
	if (k === 0) return near;
	const reach = (NEIGHBOURS / count / (BALLS[k] ?? 5)) ** (2 / k);
	for (let a = 0; a < count; a++) {
		for (let b = 0; b < a; b++) {
			let square = 0;
			for (let j = 0; j < k && square < reach; j++) square += (shares[a * k + j]! - shares[b * k + j]!) ** 2;
			if (square >= reach) continue;
			near[a]!.push(b);
			near[b]!.push(a);
		}
	}
	return near;
}
