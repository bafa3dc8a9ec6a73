/** What can be done to many items in the background. Its settings, columns, order and words follow from these. */
import type { SweepFigure } from './sweep-columns';

export interface SweepKindDescription {
	/** What heads its page. */
	name: string;
	/** What presses for it say, where they stand over selected items; without one it is begun elsewhere. */
	offer?: { name: string; does: string };
	/** One that came of it, and several. */
	done: readonly [one: string, several: string];
	/** What heads the column of what came of an item. */
	result: string;
	/** The one thing that it is told, and no other kind is. */
	told: 'lineUp' | 'share' | 'service' | 'of' | null;
	/** Columns of figures that it has. */
	columns: readonly SweepFigure[];
	/** How its rows are sorted until somebody chooses. */
	order: { sort: SweepFigure | 'code'; down: boolean };
	/** Whether rows are compared with what is adopted by their errors. */
	compared: boolean;
	/** Whether what is adopted of it continues the sequence of the newest record. */
	continues: boolean;
}

const LARGEST_GAIN = { sort: 'gain', down: true } as const;
const BY_CODE = { sort: 'code', down: false } as const;

export const SWEEP_KINDS = {
	propose: {
		name: 'Proposals',
		offer: { name: 'propose for each', does: 'Propose a forecast for each, compared with what is adopted' },
		done: ['proposal', 'proposals'],
		result: 'result',
		told: null,
		columns: ['gain', 'wapeBefore', 'next', 'nextBefore'],
		order: LARGEST_GAIN,
		compared: true,
		continues: false,
	},
	update: {
		name: 'Updating',
		offer: { name: 'update', does: 'Adopt each forecast again on newer actuals' },
		done: ['update', 'updates'],
		result: 'result',
		told: null,
		columns: ['next', 'nextBefore'],
		order: BY_CODE,
		compared: false,
		continues: true,
	},
	try: {
		name: 'A line-up tried',
		offer: { name: 'try a line-up…', does: 'Compare one item’s line-up on each of them' },
		done: ['item compared', 'items compared'],
		result: 'closest of the line-up',
		told: 'lineUp',
		columns: ['mad', 'mape', 'gain', 'next', 'nextBefore'],
		order: LARGEST_GAIN,
		compared: true,
		continues: false,
	},
	stock: {
		name: 'Stock for a service level',
		offer: {
			name: 'stock…',
			does: 'Calculate each stock over the lead time for a service level, compared with what is adopted',
		},
		done: ['stock', 'stocks'],
		result: 'method',
		told: 'service',
		columns: ['lead', 'stock', 'stockBefore', 'next'],
		order: { sort: 'stockChange', down: true },
		compared: false,
		continues: true,
	},
	share: {
		name: 'A forecast shared',
		done: ['item has its share', 'items have their share'],
		result: 'changed by hand',
		told: 'share',
		columns: ['next', 'nextBefore'],
		order: { sort: 'next', down: true },
		compared: false,
		continues: true,
	},
	adopt: {
		name: 'Adopting',
		done: ['forecast was adopted', 'forecasts were adopted'],
		result: 'adopted',
		told: 'of',
		columns: ['next', 'nextBefore'],
		order: BY_CODE,
		compared: false,
		continues: false,
	},
} as const satisfies Readonly<Record<string, SweepKindDescription>>;

export type SweepKind = keyof typeof SWEEP_KINDS;
export const SWEEP_KIND_IDS = Object.keys(SWEEP_KINDS) as readonly SweepKind[];
export const sweepKind = (kind: SweepKind): SweepKindDescription => SWEEP_KINDS[kind];
/** Those that can be begun over selected items. */
export type OfferedKind = {
	[Kind in SweepKind]: (typeof SWEEP_KINDS)[Kind] extends { offer: object } ? Kind : never;
}[SweepKind];
export const OFFERED_KINDS = SWEEP_KIND_IDS.filter(
	(kind): kind is OfferedKind => 'offer' in SWEEP_KINDS[kind],
);

/** By what a sum's forecast is shared: what its items are handed over for the same period, or their demand of the last cycle. */
export const SHARES = ['forecasts', 'cycle'] as const;
