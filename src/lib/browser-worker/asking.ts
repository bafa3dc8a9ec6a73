import type { CandidateRefusal, Evaluated, Evaluation } from '$core/questions/answer';
import type { Proposal, ProposalRequest } from '$core/questions/propose';
import type { ValidRequest } from '$core/questions/request';

/** What is asked again and again is long; it is sent once. */
export type Held = Pick<ValidRequest, 'series' | 'gaps'>;

/** A request without what is held. */
export type Question = Omit<ValidRequest, keyof Held>;

/** What is asked of a proposal beside the series. */
export type ProposalQuestion = Omit<ProposalRequest, keyof Held>;

/** An answer as far as it differs from the one before: a candidate that is the same as then stands as its id alone. */
export interface Changes extends Omit<Evaluation, 'candidates'> {
	candidates: (Evaluated | CandidateRefusal | string)[];
	/** Milliseconds that the arithmetic took. */
	took: number;
}

/** The end on the page: sends the series when it is another one, and makes an answer whole again. */
export class Asking {
	#sent: Held | null = null;
	#before: Evaluation['candidates'] = [];

	constructor(
		private readonly send: (question: Question, held: Held | null) => Promise<Changes>,
		private readonly sendProposal?: (question: ProposalQuestion, held: Held | null) => Promise<Proposal>,
	) {}

	/** The series where it is another one than the last time. */
	#toSend({ series, gaps }: Held): Held | null {
		if (this.#sent?.series === series && this.#sent.gaps === gaps) return null;
		return (this.#sent = { series, gaps });
	}

	propose({ series, gaps, ...question }: Held & ProposalQuestion): Promise<Proposal> {
		return this.sendProposal!(question, this.#toSend({ series, gaps }));
	}

	async ask({ series, gaps, ...question }: ValidRequest): Promise<{ evaluation: Evaluation; took: number }> {
		const { took, candidates, ...rest } = await this.send(question, this.#toSend({ series, gaps }));
		const known = new Map(this.#before.map((candidate) => [candidate.id, candidate]));
		this.#before = candidates.map((candidate) =>
			typeof candidate === 'string' ? known.get(candidate)! : candidate,
		);
		return { evaluation: { ...rest, candidates: this.#before }, took };
	}
}
