import { type Frequency } from '../../src/core/series/frequency';
import { firstDay, formatPeriod, type Ordinal } from '../../src/core/series/period';
import { Draw, type MadeTable } from './tables';

const COLUMNS = {
	date: ['Date', 'Order date', 'Datum', 'Fecha', 'Date'],
	item: ['Item', 'SKU', 'Artikel', 'Article', 'Artículo'],
	quantity: ['Qty', 'Quantity', 'Menge', 'Qté', 'Cantidad'],
	order: ['Order', 'Order no.', 'Auftrag', 'Commande', 'Pedido'],
	customer: ['Customer', 'Client', 'Kunde', 'Client', 'Cliente'],
	price: ['Price', 'Unit price', 'Preis', 'Prix', 'Precio'],
	status: ['Status', 'State', 'Status', 'Statut', 'Estado'],
	family: ['Family', 'Group', 'Warengruppe', 'Famille', 'Familia'],
} as const;
const STATES: readonly (readonly [string, string])[] = [
	['shipped', 'cancelled'],
	['closed', 'Cancelled'],
	['geliefert', 'storniert'],
	['livrée', 'annulée'],
	['enviado', 'cancelado'],
];
type Column = keyof typeof COLUMNS;

/**
 * Lines of orders as a seed makes them, several on many days, with what they come to: summed to months, weeks or days by how long
 * they run, nought where there is no line, without first and last periods that the lines do not fill.
 */
export function makeOrders(seed: number): MadeTable {
	const draw = new Draw(seed + 9_000_000);
	const language = draw.int(0, 4);
	const frequency = draw.pick<Frequency>(['month', 'month', 'month', 'week', 'day']);
	const begins = 19_000 + draw.int(0, 900);
	const days =
		frequency === 'month' ? draw.int(190, 800) : frequency === 'week' ? draw.int(60, 140) : draw.int(9, 30);
	const codes = Array.from({ length: draw.int(1, 6) }, (_, i) => `KB-${600 + 7 * i}`);
	const families = ['Brakes', 'Chains', 'Rims'];
	const busy = draw.pick([1, 2, 5]);
	const columns = shuffled(draw, [
		'date',
		'item',
		'quantity',
		...(['order', 'customer', 'price', 'status', 'family'] as const).filter(() => draw.chance(0.3)),
	] as Column[]);
	const [open, cancelled] = STATES[language]!;
	const totals = new Map<string, Map<Ordinal, number>>(codes.map((code) => [code, new Map()]));
	const rows: string[][] = [];
	const write = draw.pick<(day: number) => string>([
		(day) => String(formatPeriod('day', day)),
		(day) => String(formatPeriod('day', day)).split('-').reverse().join('.'),
		(day) => `${String(formatPeriod('day', day))} ${String(draw.int(8, 17))}:15`,
		(day) => String(day + 25_569),
	]);
	for (let day = begins; day < begins + days; day++) {
		const lines = draw.int(day === begins || day === begins + days - 1 ? 1 : 0, 2 * busy);
		for (let line = 0; line < lines; line++) {
			const at = draw.int(0, codes.length - 1);
			const isCancelled = columns.includes('status') && draw.chance(0.04);
			const quantity = draw.int(1, 24);
			const cells: Record<Column, string> = {
				date: write(day),
				item: codes[at]!,
				quantity: String(quantity),
				order: String(40_000 + rows.length),
				customer: draw.pick(['North Pier', 'Old Mill', 'Harbour Row', 'Sand Lane', 'Ferry Gate']),
				price: (2 + 3 * at + 0.95).toFixed(2),
				status: isCancelled ? cancelled : open,
				family: families[at % 3]!,
			};
			rows.push(columns.map((column) => cells[column]));
			if (isCancelled) continue;
			const period = ordinalOf(frequency, day);
			const own = totals.get(codes[at]!)!;
			own.set(period, (own.get(period) ?? 0) + quantity);
		}
	}
	const [from, to] = whole(frequency, begins, begins + days - 1);
	const items = new Map<string, Map<Ordinal, number>>();
	for (const [code, own] of totals) {
		const present = [...own.keys()].filter((period) => period >= from && period <= to);
		if (present.length === 0) continue;
		const first = Math.min(...present);
		items.set(
			code,
			new Map(Array.from({ length: to - first + 1 }, (_, i) => [first + i, own.get(first + i) ?? 0])),
		);
	}
	const mark = draw.pick(['\t', ';', ',']);
	return {
		seed,
		text: [columns.map((column) => COLUMNS[column][language]!), ...rows]
			.map((row) => row.join(mark))
			.join('\n'),
		how: `orders over ${days} days, ${codes.length} items, ${columns.join(' ')}`,
		frequency,
		items,
		labels: columns.includes('family') ? new Map(codes.map((code, i) => [code, families[i % 3]!])) : null,
		said: {},
		broken: false,
	};
}

/** The period that a day is in, found from its first days. */
function ordinalOf(frequency: Frequency, day: number): Ordinal {
	if (frequency === 'day') return day;
	let ordinal = frequency === 'month' ? 12 * (1970 + Math.floor(day / 366)) : Math.floor(day / 7);
	while (firstDay(frequency, ordinal + 1)! <= day) ordinal++;
	return ordinal;
}

/** First and last periods that days fill: an end that lacks more than three days is left out. */
function whole(frequency: Frequency, first: number, last: number): [Ordinal, Ordinal] {
	let [from, to] = [ordinalOf(frequency, first), ordinalOf(frequency, last)];
	if (frequency === 'day') return [from, to];
	if (first - firstDay(frequency, from)! > 3) from++;
	if (firstDay(frequency, to + 1)! - 1 - last > 3) to--;
	return [from, to];
}

function shuffled<T>(draw: Draw, list: readonly T[]): T[] {
	const left = [...list];
	return list.map(() => left.splice(draw.int(0, left.length - 1), 1)[0]!);
}
