import { expose } from 'comlink';
import { chanceOfCrossing } from '$core/accuracy/tracking';
import type { Answer } from '$core/answer';
import { evaluate } from '$core/evaluate';
import type { EvaluateRequest } from '$core/request';
import { readText } from '../reading/read';

/** The answer, and how long it took in milliseconds. */
function evaluateTimed(request: EvaluateRequest): { answer: Answer; took: number } {
	const began = performance.now();
	const answer = evaluate(request);
	return { answer, took: performance.now() - began };
}

/** What runs apart from the page, so that no arithmetic ever holds up a hand. */
const arithmetic = { evaluateTimed, chanceOfCrossing, readText };

export type Arithmetic = typeof arithmetic;

expose(arithmetic);
