/** Columns of figures of what came of a sweep: what is read, sorted by, shown and exported follows from these. */
import { MEASURES } from '$core/accuracy/measures';

export interface SweepColumn {
	/** What heads it. */
	name: string;
	/** What it says, for whoever points at its head. */
	is?: string;
	/** What its figures are in. */
	in: 'demand' | 'percent' | 'gain' | 'periods';
	/** What rows are sorted by where its head is pressed, where that is not itself. */
	sorts?: SweepFigure;
	/** Whether it says nothing of rare demand. */
	misleadsRare?: true;
}

/** Figures of a row; the server says where each stands in the database. */
export const SWEEP_FIGURES = [
	'gain',
	'wape',
	'wapeBefore',
	'mad',
	'mape',
	'next',
	'nextBefore',
	'change',
	'lead',
	'stock',
	'stockBefore',
	'stockChange',
] as const;
export type SweepFigure = (typeof SWEEP_FIGURES)[number];

const CLOSEST = 'Of the closest one, over the periods that all of the line-up have.';

/** From left to right. */
export const SWEEP_COLUMNS: Readonly<Partial<Record<SweepFigure, SweepColumn>>> = {
	mad: { name: MEASURES.mad.name, is: CLOSEST, in: 'demand', misleadsRare: true },
	mape: { name: MEASURES.mape.name, is: CLOSEST, in: 'percent', misleadsRare: true },
	gain: {
		name: 'error',
		is: 'Error in a trial on past periods, against what is adopted over the same ones.',
		in: 'gain',
	},
	wapeBefore: {
		name: 'WAPE before',
		is: 'Of what was adopted, over these periods.',
		in: 'percent',
		misleadsRare: true,
	},
	lead: {
		name: 'lead time',
		is: 'Periods that the stock is to last for; 1 where the item has no lead time.',
		in: 'periods',
	},
	stock: {
		name: 'new stock',
		is: 'The stock that covers demand over the lead time with the service level as its probability. Each figure says how often that held.',
		in: 'demand',
	},
	stockBefore: {
		name: 'stock before',
		is: 'By the adopted forecast and its service level, over the same lead time. Sorts by the change.',
		in: 'demand',
		sorts: 'stockChange',
	},
	next: { name: 'new forecast', is: 'The first final forecast.', in: 'demand' },
	nextBefore: {
		name: 'adopted now',
		is: 'The final forecast for that period now. Sorts by the change.',
		in: 'demand',
		sorts: 'change',
	},
};
export const SWEEP_KEYS = Object.keys(SWEEP_COLUMNS) as readonly SweepFigure[];
export const sweepColumn = (key: SweepFigure): SweepColumn => SWEEP_COLUMNS[key]!;
