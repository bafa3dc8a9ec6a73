import type { Candidate } from '$core/methods/registry';
import { expose, transfer } from 'comlink';
import { chanceOfCrossing } from '$core/accuracy/tracking';
import { evaluate } from '$core/questions/evaluate';
import { CannotRun } from '$core/contract/method';
import type { Criterion } from '$core/contract/criteria';
import type { EvaluateRequest } from '$core/questions/request';
import type { SteadinessPoint } from '$core/words/steadiness';
import type { Terrain, TerrainInput } from '$core/questions/terrain';
import { prepareSeries, type SeriesInput } from '$core/series/series';
import { diagnose } from '$core/diagnosis/diagnosis';
import { type Choices } from '../reading/choices';
import { Answering, toTransfer } from './answering';
import type { Changes, Held, ProposalQuestion, Question } from './asking';
import type { TableReader } from '../reading/table-reader';

/** The item on the bench, held for the next move of a dial. */
const answering = new Answering();

/** What changed in the answer since the last question; its lists are handed over. */
function answer(question: Question, held: Held | null): Changes {
	const { changes, transfer: lists } = toTransfer(answering.answer(question, held));
	return transfer(changes, lists);
}

/** What terrain and steadiness are asked of: a request with one candidate. */
export interface ConstantsQuestion {
	series: EvaluateRequest['series'];
	gaps: EvaluateRequest['gaps'];
	candidate: Candidate;
	criterion: Criterion;
	scoreFrom: number | null;
}

const seriesOf = ({ series, gaps }: ConstantsQuestion) =>
	prepareSeries(series as SeriesInput, gaps ?? 'skip');

/** The criterion over some constants; a sentence where it cannot be had. */
async function terrainOf(question: ConstantsQuestion, axes: TerrainInput['axes']): Promise<Terrain | string> {
	const { terrain } = await import('$core/questions/terrain');
	try {
		return terrain(seriesOf(question), { ...question, axes });
	} catch (error) {
		if (error instanceof CannotRun) return error.message;
		throw error;
	}
}

/** The best constants at one origin. */
async function steadiness(
	question: ConstantsQuestion,
	origin: number,
	neighbour: Record<string, number> | null,
): Promise<SteadinessPoint | null> {
	const { steadinessAt } = await import('$core/questions/steadiness');
	return steadinessAt(seriesOf(question), question.candidate, question.scoreFrom, origin, neighbour);
}

let reader: Promise<TableReader> | null = null;
/** Readers of files are large, and wanted only where a table is brought in. */
const tables = () =>
	(reader ??= import('../reading/table-reader').then(({ TableReader: Reader }) => new Reader()));

/** What runs apart from the page, so that no arithmetic ever holds up a hand. What most visits do not ask comes when it is asked. */
const arithmetic = {
	answer,
	evaluate: (request: EvaluateRequest) => evaluate(request),
	chanceOfCrossing,
	propose: (question: ProposalQuestion, held: Held | null) => answering.propose(question, held),
	diagnose,
	terrainOf,
	steadiness,
	openText: async (text: string) => (await tables()).openText(text),
	openBytes: async (bytes: Uint8Array) => (await tables()).openBytes(bytes),
	readTable: async (choices: Choices) => (await tables()).readTable(choices),
};

export type Arithmetic = typeof arithmetic;

expose(arithmetic);
