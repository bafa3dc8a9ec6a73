import { expose } from 'comlink';
import { chanceOfCrossing } from '$core/accuracy/tracking';
import { evaluate } from '$core/evaluate';
import { readText } from '../reading/read';

/** What runs apart from the page, so that no arithmetic ever holds up a hand. */
const arithmetic = { evaluate, chanceOfCrossing, readText };

export type Arithmetic = typeof arithmetic;

expose(arithmetic);
