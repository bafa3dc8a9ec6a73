/** Columns of figures in the list of items: what is sorted by, ranged over, shown and exported follows from these. */
import { type MeasureIn, MEASURES, measuresIn } from '$core/accuracy/measures';
import { termIs } from '$core/words/terms';

/** Of a row of the list, what columns are made from. */
interface Row {
	figures: Readonly<Record<string, number | null>>;
	shown: { adopted: { next: number | null } | null } | null;
	status: {
		newest: { error: number } | null;
		score: Readonly<Record<MeasureIn<'list'>, number | null>> | null;
	} | null;
}

export interface ListColumn {
	/** What heads it. */
	name: string;
	/** What it says, for whoever points at its head. */
	is: string;
	/** What its figures are in; `money` is what prices are in. */
	in: 'demand' | 'money' | 'percent' | 'ratio' | 'signal';
	/** Whether its figures have a sign. */
	signed: boolean;
	/** Whether it is there until somebody chooses. */
	usual: boolean;
	/** Whether it misleads where demand is rare. */
	misleadsRare: boolean;
	of: (row: Row) => number | null;
}

const OF = 'Of the final forecasts since the newest sequence was adopted.';

/** A column of `item_status` that is in a row as it is kept. */
const own = (key: string, column: Pick<ListColumn, 'name' | 'is' | 'in'>): ListColumn => ({
	...column,
	signed: false,
	usual: false,
	misleadsRare: false,
	of: ({ figures }) => figures[key] ?? null,
});

type Listed = MeasureIn<'list'>;

function ofMeasure(id: Listed): ListColumn {
	const { name, unit, better, list, misleadsRare = false } = MEASURES[id];
	return {
		name,
		is: unit === 'signal' ? termIs(id) : `${termIs(id)} ${OF}`,
		in: unit === 'demand squared' ? 'demand' : unit,
		signed: better === 'near zero',
		usual: list === 'usual',
		misleadsRare,
		of: ({ status }) => status?.score?.[id] ?? null,
	};
}

/** What a measure is called in addresses and in `item_status`. */
export type MeasureKey = Exclude<Listed, 'trackingSignal'> | 'signal';
export const measureKey = (id: Listed): MeasureKey => (id === 'trackingSignal' ? 'signal' : id);
export const LISTED_MEASURES = measuresIn('list');
const ofMeasures = Object.fromEntries(LISTED_MEASURES.map((id) => [measureKey(id), ofMeasure(id)])) as Record<
	MeasureKey,
	ListColumn
>;

/** Those that rows carry beside their status, as they are kept. */
const OWN = {
	size: own('size', {
		name: 'demand',
		is: 'Mean demand of a period, over the last cycle, 12 periods at least.',
		in: 'demand',
	}),
	value: own('value', {
		name: 'value of demand',
		is: 'Mean demand of a period × the item’s price; blank without a price.',
		in: 'money',
	}),
};
type OwnKey = keyof typeof OWN;
export const OWN_KEYS = Object.keys(OWN) as readonly OwnKey[];
export type ListKey = 'next' | 'miss' | OwnKey | MeasureKey;

/** From left to right, by the names that they have in addresses and in `item_status`. */
const COLUMNS: Readonly<Record<ListKey, ListColumn>> = {
	next: {
		name: 'final forecast',
		is: `${termIs('final')} For the next period.`,
		in: 'demand',
		signed: false,
		usual: true,
		misleadsRare: false,
		of: ({ shown }) => shown?.adopted?.next ?? null,
	},
	miss: {
		name: 'last error',
		is: 'The newest period: actual − final forecast; + means the forecast was too low.',
		in: 'demand',
		signed: true,
		usual: true,
		misleadsRare: false,
		of: ({ status }) => status?.newest?.error ?? null,
	},
	...ofMeasures,
	...OWN,
};
export const LIST_KEYS = Object.keys(COLUMNS) as readonly ListKey[];
export const listColumn = (key: ListKey): ListColumn => COLUMNS[key];

/** What ranges may be asked of: what can be compared from item to item. */
export const RANGED = LIST_KEYS.filter((key) => listColumn(key).in !== 'demand' || key === 'size');
