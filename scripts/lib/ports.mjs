// Ports on loopback.
import { createServer } from 'node:net';

/**
 * @param {number} port
 * @returns {Promise<boolean>}
 */
export function isFree(port) {
	return new Promise((resolve) => {
		const probe = createServer();
		probe.once('error', () => resolve(false));
		probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
	});
}

/** A port that nobody has just now. @returns {Promise<number>} */
export function freePort() {
	return new Promise((resolve, reject) => {
		const probe = createServer();
		probe.once('error', reject);
		probe.listen(0, '127.0.0.1', () => {
			const address = probe.address();
			probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
		});
	});
}
