// (g) What goes over the wire when a page is first opened: script and style as gzip, charts apart, which are loaded when first needed.
import { serveForAWhile } from '../../scripts/lib/served.mjs';

const KILOBYTE = 1000;
/** @type {{ name: string, path: string, script: number }[]} */
const PAGES = [
	{ name: 'item', path: '/items/60-014?view=working', script: 230 },
	{ name: 'Items', path: '/items', script: 100 },
];
const STYLE = 25;

/** @param {string[]} addresses @returns {Promise<number>} kilobytes as they are sent, compressed with gzip */
async function sent(addresses) {
	let sum = 0;
	for (const address of addresses) {
		// fetch unpacks what it gets: the length that was sent stands in the head.
		const { headers } = await fetch(address, { headers: { 'accept-encoding': 'gzip' } });
		sum += Number(headers.get('content-length'));
	}
	return sum / KILOBYTE;
}

/** Addresses that a page names in its head lines for its browser to load at once. @param {Headers} headers @param {string} rel */
const named = (headers, rel) =>
	[...(headers.get('link') ?? '').matchAll(/<([^>]+)>; rel="(\w+)"(?:; as="(\w+)")?/g)]
		.filter(([, , own, as]) => own === rel || (own === 'preload' && as === rel))
		.map(([, address]) => String(address));

/** @returns {Promise<boolean>} whether all is within its limits */
export async function measureWire() {
	const app = await serveForAWhile({});
	let within = true;
	try {
		for (const { name, path, script } of PAGES) {
			const { headers } = await fetch(app.address + path);
			const at = (/** @type {string} */ rel) => named(headers, rel).map((each) => app.address + each);
			const figures = [
				[`script of ${name}`, await sent(at('modulepreload')), script],
				[`style of ${name}`, await sent(at('style')), STYLE],
			];
			for (const [what, size, most] of /** @type {[string, number, number][]} */ (figures)) {
				if (!(size > 0 && size <= most)) within = false;
				console.log(`(g) ${what}: ${size.toFixed(1)} kB gzip (at most ${most})`);
			}
		}
	} finally {
		await app.stop();
	}
	return within;
}
