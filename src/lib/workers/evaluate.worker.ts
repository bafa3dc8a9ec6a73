import { expose } from 'comlink';
import { chanceOfCrossing } from '$core/accuracy/tracking';
import type { Answer } from '$core/answer';
import { evaluate } from '$core/evaluate';
import { SearchMemory } from '$core/fit';
import type { EvaluateRequest } from '$core/request';
import { look } from '$core/seasons/look';
import { type Choices, type Reading, readSource } from '../reading/read';
import { openBytes as openSource, openText as openPaste, type Source } from '../reading/source';

/** Searches of the item on the bench, for the next move of a dial. */
const memory = new SearchMemory();

/** The answer, and how long it took in milliseconds. */
function evaluateTimed(request: EvaluateRequest): { answer: Answer; took: number } {
	const began = performance.now();
	const answer = evaluate(request, memory);
	return { answer, took: performance.now() - began };
}

/** The table that is looked at: opened once, read again with every choice. */
let table: { source: Source; bytes: Uint8Array | null } | null = null;

function openText(text: string): void {
	table = { source: openPaste(text), bytes: null };
}

async function openBytes(bytes: Uint8Array): Promise<void> {
	table = { source: await openSource(bytes), bytes };
}

async function readTable(choices: Choices): Promise<Reading> {
	const { source, bytes } = table!;
	return readSource(choices.encoding && bytes ? await openSource(bytes, choices.encoding) : source, choices);
}

/** What runs apart from the page, so that no arithmetic ever holds up a hand. */
const arithmetic = { evaluateTimed, chanceOfCrossing, look, openText, openBytes, readTable };

export type Arithmetic = typeof arithmetic;

expose(arithmetic);
