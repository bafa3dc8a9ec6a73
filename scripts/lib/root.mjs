// Where the program lies.
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Bundled for a bench it lies as deep: in `.ventrel/bench`. */
export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '../..');
