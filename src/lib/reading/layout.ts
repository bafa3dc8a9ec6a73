import type { Frequency } from '$core/series/frequency';
import type { Choices, ColumnRole, RowRole } from './choices';
import type { Line, Roles } from './roles';
import { findPeriods } from './align';
import { LAYOUT, NEAR } from './costs';
import { type Frame, framesOf } from './frames';
import { gather, seasonHeading } from './gather';
import { Grid, NUMBER, PERIOD, TEXT } from './grid';
import { numberItems } from './items';
import { nameTexts } from './naming';
import { saysPeriods } from './words';
import { isCycleOf, type Telling, tellingsOf } from './telling';

type Table = readonly (readonly string[])[];

/** Cells that the search looks at; the rest of a table is read as its beginning is. */
const LOOKED_AT = 6000;
const LEAST_ROWS = 40;
const MOST_ROWS = 400;
/** Readings that are laid out in full, the likeliest first. */
const LAID_OUT = 10;
/** Cells that are laid out for all of them together, whatever a table is like. */
const MOST_CELLS = 600_000;
/** Labels that are looked at in naming one frame in every way. */
const MOST_LABELS = 400_000;
/** Sides that are tried as time, the likeliest first. */
const MOST_TIMES = 8;

/**
 * Searches for what each column and row of a table is: figures with labels on their sides are proposed in every way
 * that the cells allow, laid out, and held against each other by how much of the table each explains. Choices made by
 * hand narrow the search.
 */
export function findRoles(rows: Table, width: number, choices: Choices = {}): Layout {
	const grid = new Grid(rows, width);
	const looked = Math.min(
		rows.length,
		Math.max(LEAST_ROWS, Math.min(MOST_ROWS, Math.floor(LOOKED_AT / Math.max(1, width)))),
	);
	const proposals = framesOf(grid, looked, choices).flatMap((frame) => proposalsOf(grid, frame, choices));
	proposals.sort((a, b) => a.cost - b.cost);
	const laid: (Proposal & LaidOut)[] = [];
	let best = Infinity;
	let cells = 0;
	for (const proposal of proposals.slice(0, LAID_OUT)) {
		const { data, figures } = proposal.frame;
		cells += data.length * figures.length;
		if (laid.length > 1 && cells > MOST_CELLS) break;
		// What is already worse than the best one laid out cannot become better.
		if (proposal.cost > best + NEAR) break;
		const out = layOut(grid, looked, proposal, choices);
		laid.push({ ...proposal, ...out });
		best = Math.min(best, out.cost);
	}
	laid.sort((a, b) => a.cost - b.cost);
	const [first, ...others] = laid;
	if (!first)
		return {
			roles: nothing(rows, width, choices),
			near: [],
			looked,
			rolesOf: (more) => more.map(() => 'ignored'),
		};
	const near: (Proposal & LaidOut)[] = [];
	const told = new Set<string>();
	for (const other of others) {
		if (other.cost > first.cost + NEAR) continue;
		if (told.size === 0) told.add(first.said());
		const said = other.said();
		if (told.has(said)) continue;
		told.add(said);
		near.push(other);
	}
	return {
		roles: extended(grid, first, looked),
		near: near.map((proposal) => ({ ...proposal, roles: extended(grid, proposal, looked) })),
		looked,
		rolesOf(more, from) {
			grid.follow(looked, more);
			first.frame.follow(from);
			const roles = { ...first.roles, rows: first.roles.rows.slice(0, looked) };
			return extended(grid, { ...first, roles }, looked).rows.slice(looked);
		},
	};
}

/** What a table's columns and rows are. */
export interface Layout {
	/** The best reading, and others that are nearly as good and come to other figures. */
	roles: Roles;
	near: readonly { roles: Roles; items: number; frequency: Frequency }[];
	/** Rows that the search looked at. */
	looked: number;
	/**
	 * What other rows are, of a table that goes on behind those that were looked at.
	 * @param from place of the first of them
	 */
	rolesOf(more: Table, from: number): RowRole[];
}

interface Proposal {
	frame: Frame;
	roles: Roles;
	cost: number;
	/** Whether some of its periods are none, so that it can only end in naming them. */
	broken: boolean;
}

/** No figures anywhere. */
const nothing = (rows: Table, width: number, choices: Choices): Roles => ({
	columns: Array.from({ length: width }, (_, c) => choices.columns?.[c] ?? 'ignored'),
	rows: Array.from({ length: rows.length }, (_, r) => choices.rows?.[r] ?? 'ignored'),
	bySum: { columns: [], rows: [] },
	quantity: null,
	order: 'down',
});

/** Roles for the rows that the search did not look at. */
function extended(grid: Grid, { frame, roles }: Proposal, looked: number): Roles {
	const titled = roles.rows.some((role, r) => r < looked && role === 'item' && frame.titlesBlock(r));
	for (let r = looked; r < grid.rows.length; r++) {
		const role = frame.roleOf(r);
		if (role !== null) roles.rows[r] = titled && role === 'ignored' && frame.titlesBlock(r) ? 'item' : role;
		else roles.rows[r] = roles.rows[frame.blocks.get(r) ?? -1] ?? 'ignored';
	}
	return roles;
}

/** A telling of one line, in its part: the period, or the cycle or the season of it. */
interface Part {
	line: Line;
	as: 'period' | 'cycle' | 'season' | 'day';
	cost: number;
}

/** Every way in which the lines around a frame's figures can be named. */
function proposalsOf(grid: Grid, frame: Frame, choices: Choices): Proposal[] {
	const lines = [...columnLines(grid, frame), ...rowLines(grid, frame), ...sectionLines(grid, frame)];
	const forced = ({ side, at }: Line) => (side === 'column' ? choices.columns?.[at] : choices.rows?.[at]);
	const proposals: Proposal[] = [];
	const costOf = (parts: readonly Part[]) => parts.reduce((sum, { cost }) => sum + cost, 0);
	const labels = lines.reduce((sum, line) => sum + line.labels.length, 1);
	const schemes = [...schemesOf(lines, frame, forced)].sort((a, b) => costOf(a) - costOf(b));
	for (const parts of schemes.slice(0, Math.max(4, Math.floor(MOST_LABELS / labels)))) {
		const named = new Map<Line, ColumnRole | RowRole>(parts.map(({ line, as }) => [line, as]));
		let cost = frame.cost + costOf(parts);
		if (parts.length === 0) cost += LAYOUT.timeless;
		// Numbers beside whole periods only count the lines.
		const counted = parts.find(
			({ line, as }) =>
				as === 'period' && line.tells.every(({ kind }) => kind === 'numbers' || kind === 'dates'),
		);
		if (
			counted &&
			lines.some(
				({ side, tells }) =>
					side === counted.line.side && tells.some(({ kind, cost: doubt }) => kind === 'full' && doubt < 1),
			)
		)
			cost += LAYOUT.countedBesidePeriods;
		for (const line of lines) {
			if (named.has(line) || line.tells.length === 0) continue;
			const isKnown = isTold(line, parts);
			// What is headed as time and tells it is seldom there for nothing.
			if (!isKnown && saysPeriods(line.heading)) cost += LAYOUT.saidUnasked;
			cost += Math.max(...line.tells.map((telling) => unasked(telling, isKnown)));
		}
		const { roles, cost: naming } = nameTexts(grid, frame, lines, named, choices);
		const broken = parts.some(({ line }) => line.tells.some((telling) => telling.broken));
		proposals.push({ frame, roles, cost: cost + naming, broken });
	}
	return proposals;
}

/** How unlikely it is that a side tells time and is not asked: a weekday beside its date is, a row of months is not. */
function unasked({ kind, cost, broken }: Telling, isTold: boolean): number {
	if (broken) return LAYOUT.unasked;
	const weight = isTold
		? LAYOUT.toldAgain
		: kind === 'numbers'
			? LAYOUT.unaskedNumbers
			: kind === 'dates'
				? LAYOUT.unaskedDates
				: LAYOUT.unasked;
	return Math.max(0, weight - cost);
}

/** Whether a line says again what the period says: each period has one label of it. */
function isTold(line: Line, parts: readonly Part[]): boolean {
	const same = parts.filter((part) => part.line.side === line.side && part.as !== 'season');
	return same.some(({ line: { labels } }) => {
		const of = new Map<string, string>();
		return labels.every((label, i) => {
			const before = of.get(label);
			of.set(label, line.labels[i]!);
			return before === undefined || before === line.labels[i];
		});
	});
}

function* schemesOf(
	lines: readonly Line[],
	frame: Frame,
	forced: (line: Line) => ColumnRole | RowRole | undefined,
): Generator<Part[]> {
	const wanted = lines.filter((line) => ['period', 'cycle', 'season', 'day'].includes(forced(line) ?? ''));
	const doubt = (line: Line) => Math.min(...line.tells.map(({ cost }) => cost));
	const open = lines
		.filter((line) => line.tells.length > 0 && forced(line) === undefined)
		.sort((a, b) => doubt(a) - doubt(b))
		.slice(0, MOST_TIMES);
	const able = [...wanted, ...open];
	const free = (line: Line, as: Part['as']) => (forced(line) ?? as) === as;
	const takes = (...used: Line[]) => wanted.every((line) => used.includes(line));
	if (wanted.length === 0) yield [];
	for (const line of able) {
		if (!free(line, 'period') || !takes(line) || frame.sections.includes(line.at)) continue;
		const cost = line.tells.length > 0 ? Math.min(...line.tells.map(costAsPeriod)) : 2;
		if (cost < Infinity) yield [{ line, as: 'period', cost }];
	}
	for (const cycle of able) {
		for (const season of able) {
			if (cycle === season || !free(cycle, 'cycle') || !free(season, 'season')) continue;
			let least = forced(cycle) && forced(season) ? LAYOUT.forcedPair : Infinity;
			for (const one of cycle.tells)
				for (const other of season.tells)
					if (isCycleOf(one.kind, other.kind)) least = Math.min(least, one.cost + other.cost);
			if (least === Infinity) continue;
			const pair: Part[] = [
				{ line: cycle, as: 'cycle', cost: least },
				{ line: season, as: 'season', cost: 0 },
			];
			if (takes(cycle, season)) yield pair;
			// Year, month and day of the month, each in a column of its own.
			for (const day of able) {
				if (
					day === cycle ||
					day === season ||
					day.side !== season.side ||
					!free(day, 'day') ||
					!takes(cycle, season, day)
				)
					continue;
				const told = day.tells.find(({ kind }) => kind === 'dates');
				const monthly = season.tells.some(({ kind }) => kind === 'seasons' || kind === 'numbers');
				const yearly = cycle.tells.some(({ kind }) => kind === 'years');
				if (told && monthly && yearly) yield [...pair, { line: day, as: 'day', cost: told.cost }];
			}
		}
	}
	for (const line of wanted)
		if (forced(line) !== 'period' && wanted.length === 1)
			yield [{ line, as: forced(line) as Part['as'], cost: LAYOUT.forced }];
}

function costAsPeriod({ kind, cost, gaps }: Telling): number {
	switch (kind) {
		case 'full':
		case 'years':
		case 'numbers':
			return cost + LAYOUT.gaps * gaps;
		case 'seasons':
			return cost + LAYOUT.yearless;
		default:
			return Infinity;
	}
}

function columnLines(grid: Grid, frame: Frame): Line[] {
	return frame.keys.map((c) => {
		const labels = frame.data.map((r) => grid.cell(r, c));
		const heading = frame.headingOf(c);
		return { side: 'column', at: c, labels, heading, tells: tellingsOf(labels, heading) };
	});
}

/** Years alone in their rows, as one line: each stands for the rows below it. */
function sectionLines(grid: Grid, frame: Frame): Line[] {
	const [first] = frame.sections;
	if (first === undefined) return [];
	const labels = frame.sections.map((r) => grid.rows[r]!.find((cell) => cell !== '')!);
	return [
		{
			side: 'row',
			at: first,
			labels,
			heading: '',
			tells: [{ kind: 'years', cost: LAYOUT.sections, gaps: 0 }],
		},
	];
}

function rowLines(grid: Grid, frame: Frame): Line[] {
	return frame.headings.map((r) => {
		const labels = frame.figures.map((c) => grid.cell(r, c));
		// A corner names the labels below it, unless it says that those beside it are periods.
		const heading = frame.keys.map((c) => grid.cell(r, c)).findLast(saysPeriods) ?? '';
		const tells = tellingsOf(labels, heading);
		// A single heading such as “2024” over one column of figures names it, unless its corner says that it is a year.
		const lone = frame.figures.length === 1;
		return {
			side: 'row',
			at: r,
			labels,
			heading,
			tells: lone ? tells.filter(({ kind }) => kind !== 'numbers') : tells,
		};
	});
}

/** A proposal laid out over what is looked at: its cost, and what it comes to, for telling two apart. */
interface LaidOut {
	cost: number;
	said: () => string;
	items: number;
	frequency: Frequency;
}

function layOut(
	grid: Grid,
	looked: number,
	{ frame, roles, cost, broken }: Proposal,
	choices: Choices,
): LaidOut {
	const rows = grid.rows.slice(0, looked);
	const entries = gather(rows, roles);
	const { names, items } = numberItems(entries);
	const timed = findPeriods(entries, items, choices, { seasons: seasonHeading(rows, roles) });
	let total = cost;
	if (timed.problem !== null && !timed.asksFirst) total += broken ? LAYOUT.brokenPeriods : LAYOUT.noPeriods;
	const places = names.map(() => new Set<number>());
	const spans = names.map(() => ({ from: Infinity, to: -Infinity, count: 0 }));
	let unread = 0;
	let doubled = 0;
	let present = 0;
	for (const [i, entry] of entries.entries()) {
		const kind = grid.kind(entry.row, entry.column);
		if (kind & (TEXT | PERIOD) && !(kind & NUMBER)) unread++;
		if (!(kind & NUMBER)) continue;
		present++;
		const ordinal = timed.ordinals[i];
		if (ordinal === null || ordinal === undefined) continue;
		const taken = places[items[i]!]!;
		if (taken.has(ordinal)) doubled++;
		taken.add(ordinal);
		const span = spans[items[i]!]!;
		span.from = Math.min(span.from, ordinal);
		span.to = Math.max(span.to, ordinal);
		span.count++;
	}
	const { frequency } = timed;
	if (present === 0) return { cost: total + 20, said: () => '', items: 0, frequency };
	total += (6 * unread) / entries.length;
	if (doubled > 0) {
		// Several lines a day are orders; several figures a month are seldom one item's.
		const dated = ['day', 'weekday', 'hour', 'week', 'month'].includes(timed.frequency) && timed.likely > 1;
		total += dated ? 0.4 + doubled / present : 1 + (4 * doubled) / present;
	}
	const many = names.length > 1;
	let alone = 0;
	let gaps = 0;
	for (const { from, to, count } of spans) {
		if (many && count < 2) alone++;
		if (count > 1) gaps += Math.max(0, 1 - count / (to - from + 1));
	}
	total += (2 * alone) / names.length + (0.8 * gaps) / names.length;
	const said = () =>
		[
			names.map(({ item }) => item).join('\t'),
			...entries.map((entry, i) => `${items[i]} ${timed.ordinals[i] ?? ''} ${entry.cell}`),
		].join('\n');
	return { cost: total + frame.oddity(roles), said, items: names.length, frequency };
}
