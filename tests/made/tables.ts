import { seededUniform } from '../../src/core/numbers/random';
import type { Frequency } from '../../src/core/series/frequency';
import { formatPeriod, type Ordinal, parsePeriod } from '../../src/core/series/period';
import type { Choices } from '../../src/lib/reading/choices';
import type { Reading } from '../../src/lib/reading/reading';

/** A table as people make them, with what it says. */
export interface MadeTable {
	seed: number;
	text: string;
	/** Layout, spelling and what else was done to it, for a reader of failures. */
	how: string;
	frequency: Frequency;
	/** Figures by item and period; one item without a code stands under ''. */
	items: Map<string, Map<Ordinal, number>>;
	/** What the items are labelled with; null where the table has no labels. */
	labels: Map<string, string> | null;
	/** What nobody could read from the table, and is said by hand. */
	said: Choices;
	/** Whether a cell was broken, so that a refusal is the right answer. */
	broken: boolean;
}

export class Draw {
	readonly uniform: () => number;
	constructor(seed: number) {
		this.uniform = seededUniform(seed);
	}
	int(least: number, most: number): number {
		return least + Math.floor(this.uniform() * (most - least + 1));
	}
	chance(share: number): boolean {
		return this.uniform() < share;
	}
	pick<T>(list: readonly T[]): T {
		return list[Math.floor(this.uniform() * list.length)]!;
	}
}

type Language = 'en' | 'de' | 'fr' | 'es' | 'zh';
const MONTHS: Record<Language, string[][]> = {
	en: [
		['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'],
		[
			'January',
			'February',
			'March',
			'April',
			'May',
			'June',
			'July',
			'August',
			'September',
			'October',
			'November',
			'December',
		],
	],
	de: [
		['Jan', 'Feb', 'Mrz', 'Apr', 'Mai', 'Jun', 'Jul', 'Aug', 'Sep', 'Okt', 'Nov', 'Dez'],
		[
			'Januar',
			'Februar',
			'März',
			'April',
			'Mai',
			'Juni',
			'Juli',
			'August',
			'September',
			'Oktober',
			'November',
			'Dezember',
		],
	],
	fr: [
		['janv.', 'févr.', 'mars', 'avr.', 'mai', 'juin', 'juil.', 'août', 'sept.', 'oct.', 'nov.', 'déc.'],
		[
			'janvier',
			'février',
			'mars',
			'avril',
			'mai',
			'juin',
			'juillet',
			'août',
			'septembre',
			'octobre',
			'novembre',
			'décembre',
		],
	],
	es: [
		['ene', 'feb', 'mar', 'abr', 'may', 'jun', 'jul', 'ago', 'sep', 'oct', 'nov', 'dic'],
		[
			'enero',
			'febrero',
			'marzo',
			'abril',
			'mayo',
			'junio',
			'julio',
			'agosto',
			'septiembre',
			'octubre',
			'noviembre',
			'diciembre',
		],
	],
	zh: [
		['1月', '2月', '3月', '4月', '5月', '6月', '7月', '8月', '9月', '10月', '11月', '12月'],
		['1月', '2月', '3月', '4月', '5月', '6月', '7月', '8月', '9月', '10月', '11月', '12月'],
	],
};
const WEEKDAYS: Record<Language, string[]> = {
	en: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'],
	de: ['Mo', 'Di', 'Mi', 'Do', 'Fr', 'Sa', 'So'],
	fr: ['lundi', 'mardi', 'mercredi', 'jeudi', 'vendredi', 'samedi', 'dimanche'],
	es: ['lunes', 'martes', 'miércoles', 'jueves', 'viernes', 'sábado', 'domingo'],
	zh: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'],
};
const SEASONS: Record<Language, string[]> = {
	en: ['Winter', 'Spring', 'Summer', 'Autumn'],
	de: ['Winter', 'Frühling', 'Sommer', 'Herbst'],
	fr: ['hiver', 'printemps', 'été', 'automne'],
	es: ['invierno', 'primavera', 'verano', 'otoño'],
	zh: ['Winter', 'Spring', 'Summer', 'Fall'],
};
const WORDS: Record<Language, Record<string, string[]>> = {
	en: {
		year: ['Year', 'year', 'FY', 'Yr'],
		month: ['Month', 'month', 'Period'],
		quarter: ['Quarter', 'Qtr'],
		'half-year': ['Half-year', 'Half'],
		week: ['Week', 'wk'],
		day: ['Date', 'Day', 'date'],
		weekday: ['Weekday', 'Day'],
		hour: ['Hour', 'Time'],
		season: ['Season'],
		item: ['Item', 'SKU', 'Part no.', 'Article', 'Code', 'item code'],
		name: ['Description', 'Name', 'Item name'],
		unit: ['Unit', 'UoM'],
		figure: ['Demand', 'Qty', 'Quantity', 'Sold', 'Units', 'pieces'],
		total: ['Total', 'TOTAL', 'Sum', 'Grand total'],
		mean: ['Average', 'Mean', 'Ø'],
		region: ['Region', 'Depot', 'Site'],
		price: ['Price', 'Unit price'],
		remark: ['Remark', 'Comment', 'Note'],
	},
	de: {
		year: ['Jahr'],
		month: ['Monat', 'Periode'],
		quarter: ['Quartal'],
		'half-year': ['Halbjahr'],
		week: ['Woche', 'KW'],
		day: ['Datum', 'Tag'],
		weekday: ['Wochentag'],
		hour: ['Stunde', 'Zeit'],
		season: ['Jahreszeit', 'Saison'],
		item: ['Artikel', 'Artikelnr.', 'Material', 'Teilenummer'],
		name: ['Bezeichnung', 'Beschreibung'],
		unit: ['Einheit', 'ME'],
		figure: ['Menge', 'Bedarf', 'Absatz', 'Stück'],
		total: ['Summe', 'Gesamt'],
		mean: ['Durchschnitt', 'Mittelwert'],
		region: ['Gebiet', 'Lager', 'Region'],
		price: ['Preis', 'Stückpreis'],
		remark: ['Bemerkung', 'Kommentar'],
	},
	fr: {
		year: ['Année'],
		month: ['Mois', 'Période'],
		quarter: ['Trimestre'],
		'half-year': ['Semestre'],
		week: ['Semaine'],
		day: ['Date', 'Jour'],
		weekday: ['Jour'],
		hour: ['Heure'],
		season: ['Saison'],
		item: ['Article', 'Réf.', 'Code'],
		name: ['Désignation', 'Libellé'],
		unit: ['Unité'],
		figure: ['Quantité', 'Ventes', 'Qté'],
		total: ['Total', 'Somme'],
		mean: ['Moyenne'],
		region: ['Région', 'Dépôt'],
		price: ['Prix'],
		remark: ['Remarque', 'Commentaire'],
	},
	es: {
		year: ['Año'],
		month: ['Mes', 'Periodo'],
		quarter: ['Trimestre'],
		'half-year': ['Semestre'],
		week: ['Semana'],
		day: ['Fecha', 'Día'],
		weekday: ['Día'],
		hour: ['Hora'],
		season: ['Estación', 'Temporada'],
		item: ['Artículo', 'Código', 'Producto'],
		name: ['Descripción', 'Nombre'],
		unit: ['Unidad'],
		figure: ['Cantidad', 'Ventas', 'Demanda'],
		total: ['Total', 'Suma'],
		mean: ['Promedio', 'Media'],
		region: ['Región', 'Almacén'],
		price: ['Precio'],
		remark: ['Observación', 'Comentario'],
	},
	zh: {
		year: ['年', 'Year'],
		month: ['月', 'Month'],
		quarter: ['Quarter'],
		'half-year': ['Half'],
		week: ['Week'],
		day: ['Date'],
		weekday: ['Weekday'],
		hour: ['Hour'],
		season: ['Season'],
		item: ['Item', 'Code'],
		name: ['Name'],
		unit: ['Unit'],
		figure: ['Qty', 'Demand'],
		total: ['Total'],
		mean: ['Average'],
		region: ['Region'],
		price: ['Price'],
		remark: ['Remark'],
	},
};

const two = (value: number) => String(value).padStart(2, '0');
const short = (year: number) => two(((year % 100) + 100) % 100);
/** Year, month and day of an ordinal of days. */
const ymd = (days: number) =>
	(formatPeriod('day', days) as string).split('-').map(Number) as [number, number, number];
const dayOf = (year: number, month: number, date: number) =>
	parsePeriod('day', `${String(year).padStart(4, '0')}-${two(month)}-${two(date)}`);
const serialOf = (days: number) => String(days + 25_569);

type DateStyle = (days: number, language: Language) => string;
const DATES: Record<string, DateStyle> = {
	iso: (d) => String(formatPeriod('day', d)),
	'ymd /': (d) =>
		ymd(d)
			.map((part, i) => (i ? two(part) : part))
			.join('/'),
	'dmy .': (d) =>
		ymd(d)
			.reverse()
			.map((part, i) => (i < 2 ? two(part) : part))
			.join('.'),
	'dmy /': (d) =>
		ymd(d)
			.reverse()
			.map((part, i) => (i < 2 ? two(part) : part))
			.join('/'),
	'dmy -': (d) =>
		ymd(d)
			.reverse()
			.map((part, i) => (i < 2 ? two(part) : part))
			.join('-'),
	'dmy . short': (d) => `${ymd(d)[2]}.${ymd(d)[1]}.${short(ymd(d)[0])}`,
	'mdy /': (d) => `${ymd(d)[1]}/${ymd(d)[2]}/${ymd(d)[0]}`,
	compact: (d) =>
		ymd(d)
			.map((part, i) => (i ? two(part) : part))
			.join(''),
	serial: serialOf,
	named: (d, l) => `${ymd(d)[2]} ${MONTHS[l][0]![ymd(d)[1] - 1]} ${ymd(d)[0]}`,
	'named long': (d, l) =>
		l === 'de'
			? `${ymd(d)[2]}. ${MONTHS[l][1]![ymd(d)[1] - 1]} ${ymd(d)[0]}`
			: l === 'es'
				? `${ymd(d)[2]} de ${MONTHS[l][1]![ymd(d)[1] - 1]} de ${ymd(d)[0]}`
				: `${ymd(d)[2]} ${MONTHS[l][1]![ymd(d)[1] - 1]} ${ymd(d)[0]}`,
	'with weekday': (d, l) =>
		`${WEEKDAYS[l][(((d + 3) % 7) + 7) % 7]} ${two(ymd(d)[2])}.${two(ymd(d)[1])}.${ymd(d)[0]}`,
};
const DATES_OF: Record<Language, string[]> = {
	en: ['iso', 'ymd /', 'mdy /', 'dmy /', 'dmy -', 'named', 'named long', 'compact', 'serial'],
	de: ['iso', 'dmy .', 'dmy . short', 'named long', 'with weekday', 'serial'],
	fr: ['iso', 'dmy /', 'dmy -', 'named', 'named long'],
	es: ['iso', 'dmy /', 'named long', 'dmy -'],
	zh: ['iso', 'ymd /'],
};

/** Labels of periods: one for each, or one for its cycle and one for its season. */
interface Spelling {
	name: string;
	label(ordinal: Ordinal): string;
}
interface SplitSpelling {
	name: string;
	/** Seasons in the cycle, and the ordinal of the first cycle’s first. */
	length: number;
	cycleOf(ordinal: Ordinal): number;
	seasonOf(ordinal: Ordinal): number;
	cycle(cycle: number): string;
	season(season: number): string;
	cycleWord: string;
	seasonWord: string;
}

const monthParts = (o: Ordinal): [number, number] => [Math.floor(o / 12), (o % 12) + 1];

function spellings(frequency: Frequency, language: Language, draw: Draw): Spelling {
	const dated = (of: (o: Ordinal) => number, styles = DATES_OF[language]): Spelling => {
		const style = draw.pick(styles);
		return { name: style, label: (o) => DATES[style]!(of(o), language) };
	};
	const from = (forms: Record<string, (o: Ordinal) => string>): Spelling => {
		const name = draw.pick(Object.keys(forms));
		return { name, label: forms[name]! };
	};
	switch (frequency) {
		case 'month': {
			if (draw.chance(0.2)) {
				const end = draw.chance(0.5);
				return dated((o) => {
					const [year, month] = monthParts(o);
					if (!end) return dayOf(year, month, 1);
					const [nextYear, next] = monthParts(o + 1);
					return dayOf(nextYear, next, 1) - 1;
				});
			}
			const names = MONTHS[language];
			if (language === 'zh')
				return from({
					'2024年3月': (o) => `${monthParts(o)[0]}年${monthParts(o)[1]}月`,
					'2024年03月': (o) => `${monthParts(o)[0]}年${two(monthParts(o)[1])}月`,
					'2024/3': (o) => `${monthParts(o)[0]}/${monthParts(o)[1]}`,
				});
			return from({
				'2024-03': (o) => `${monthParts(o)[0]}-${two(monthParts(o)[1])}`,
				'2024/03': (o) => `${monthParts(o)[0]}/${two(monthParts(o)[1])}`,
				'03/2024': (o) => `${two(monthParts(o)[1])}/${monthParts(o)[0]}`,
				'3/2024': (o) => `${monthParts(o)[1]}/${monthParts(o)[0]}`,
				'03.2024': (o) => `${two(monthParts(o)[1])}.${monthParts(o)[0]}`,
				'202403': (o) => `${monthParts(o)[0]}${two(monthParts(o)[1])}`,
				'2024M03': (o) => `${monthParts(o)[0]}M${two(monthParts(o)[1])}`,
				'Mar 2024': (o) => `${names[0]![monthParts(o)[1] - 1]} ${monthParts(o)[0]}`,
				'March 2024': (o) => `${names[1]![monthParts(o)[1] - 1]} ${monthParts(o)[0]}`,
				'Mar-24': (o) => `${names[0]![monthParts(o)[1] - 1]!.replace('.', '')}-${short(monthParts(o)[0])}`,
				"Mar '24": (o) => `${names[0]![monthParts(o)[1] - 1]} '${short(monthParts(o)[0])}`,
				'2024 Mar': (o) => `${monthParts(o)[0]} ${names[0]![monthParts(o)[1] - 1]}`,
				...(language === 'es' && {
					'marzo de 2024': (o: Ordinal) => `${names[1]![monthParts(o)[1] - 1]} de ${monthParts(o)[0]}`,
				}),
			});
		}
		case 'quarter': {
			const y = (o: Ordinal) => Math.floor(o / 4);
			const q = (o: Ordinal) => (o % 4) + 1;
			return from({
				'2024-Q1': (o) => `${y(o)}-Q${q(o)}`,
				'2024 Q1': (o) => `${y(o)} Q${q(o)}`,
				'2024Q1': (o) => `${y(o)}Q${q(o)}`,
				'Q1 2024': (o) => `Q${q(o)} ${y(o)}`,
				'Q1/24': (o) => `Q${q(o)}/${short(y(o))}`,
				"Q1'24": (o) => `Q${q(o)}'${short(y(o))}`,
				'1Q24': (o) => `${q(o)}Q${short(y(o))}`,
				...(language === 'de' && {
					'1. Quartal 2024': (o: Ordinal) => `${q(o)}. Quartal ${y(o)}`,
					'Quartal 1 2024': (o: Ordinal) => `Quartal ${q(o)} ${y(o)}`,
					'Quartal 1/2024': (o: Ordinal) => `Quartal ${q(o)}/${y(o)}`,
					'IV. Quartal 2024': (o: Ordinal) => `${['I', 'II', 'III', 'IV'][q(o) - 1]}. Quartal ${y(o)}`,
				}),
				...(language === 'fr' && {
					'T1 2024': (o: Ordinal) => `T${q(o)} ${y(o)}`,
					'1er trimestre 2024': (o: Ordinal) => `${q(o)}${q(o) === 1 ? 'er' : 'e'} trimestre ${y(o)}`,
				}),
				...(language === 'es' && {
					'T1 2024': (o: Ordinal) => `T${q(o)} ${y(o)}`,
					'1.º trimestre de 2024': (o: Ordinal) => `${q(o)}.º trimestre de ${y(o)}`,
				}),
				...(language === 'en' && {
					'Quarter 1 2024': (o: Ordinal) => `Quarter ${q(o)} ${y(o)}`,
					'1st quarter 2024': (o: Ordinal) => `${['1st', '2nd', '3rd', '4th'][q(o) - 1]} quarter ${y(o)}`,
				}),
				...(language === 'zh' && { '2024年第1季度': (o: Ordinal) => `${y(o)}年第${q(o)}季度` }),
			});
		}
		case 'half-year': {
			const y = (o: Ordinal) => Math.floor(o / 2);
			const h = (o: Ordinal) => (o % 2) + 1;
			return from({
				'2024-H1': (o) => `${y(o)}-H${h(o)}`,
				'2024 H1': (o) => `${y(o)} H${h(o)}`,
				'H1 2024': (o) => `H${h(o)} ${y(o)}`,
				'H1/24': (o) => `H${h(o)}/${short(y(o))}`,
				'1H24': (o) => `${h(o)}H${short(y(o))}`,
				...(language === 'de' && {
					'1. Halbjahr 2024': (o: Ordinal) => `${h(o)}. Halbjahr ${y(o)}`,
					'HJ1 2024': (o: Ordinal) => `HJ${h(o)} ${y(o)}`,
				}),
				...(language === 'fr' && {
					'S1 2024': (o: Ordinal) => `S${h(o)} ${y(o)}`,
					'1er semestre 2024': (o: Ordinal) => `${h(o)}${h(o) === 1 ? 'er' : 'e'} semestre ${y(o)}`,
				}),
				...(language === 'es' && { '1.º semestre 2024': (o: Ordinal) => `${h(o)}.º semestre ${y(o)}` }),
			});
		}
		case 'year':
			return from({ '2024': String, FY2024: (o) => `FY${o}`, '2023/24': (o) => `${o}/${short(o + 1)}` });
		case 'week': {
			if (draw.chance(0.3)) {
				const offset = draw.pick([0, 6, 4]);
				const spelling = dated((o) => o * 7 - 3 + offset);
				return { ...spelling, name: `${spelling.name}, ${offset ? 'ending' : 'beginning'}` };
			}
			const iso = (o: Ordinal) => {
				const [year, week] = String(formatPeriod('week', o)).split('-W');
				return [year!, week!] as const;
			};
			return from({
				'2024-W05': (o) => String(formatPeriod('week', o)),
				'2024W05': (o) => iso(o).join('W'),
				'W05 2024': (o) => `W${iso(o)[1]} ${iso(o)[0]}`,
				'W5/24': (o) => `W${Number(iso(o)[1])}/${iso(o)[0].slice(2)}`,
				'week 5, 2024': (o) => `week ${Number(iso(o)[1])}, ${iso(o)[0]}`,
				...(language === 'de' && {
					'KW 5/2024': (o: Ordinal) => `KW ${Number(iso(o)[1])}/${iso(o)[0]}`,
					'KW05 2024': (o: Ordinal) => `KW${iso(o)[1]} ${iso(o)[0]}`,
					'2024 KW 5': (o: Ordinal) => `${iso(o)[0]} KW ${Number(iso(o)[1])}`,
				}),
				...(language === 'fr' && {
					'S05 2024': (o: Ordinal) => `S${iso(o)[1]} ${iso(o)[0]}`,
					'semaine 5 2024': (o: Ordinal) => `semaine ${Number(iso(o)[1])} ${iso(o)[0]}`,
				}),
				...(language === 'es' && {
					'semana 5 de 2024': (o: Ordinal) => `semana ${Number(iso(o)[1])} de ${iso(o)[0]}`,
				}),
			});
		}
		case 'day':
			return dated((o) => o);
		case 'weekday':
			return dated((o) => Math.floor(o / 5) * 7 - 3 + (o % 5));
		case 'hour':
			return from({
				iso: (o) => String(formatPeriod('hour', o)),
				'date, time': (o) => `${String(formatPeriod('hour', o)).replace('T', ' ')}:00`,
			});
		default:
			return from({ '1': String, 'Period 1': (o) => `Period ${o}`, P1: (o) => `P${o}` });
	}
}

/** How a calendar's cycles and seasons are spelt apart; null where the frequency has none. */
function splitSpelling(frequency: Frequency, language: Language, draw: Draw): SplitSpelling | null {
	const words = WORDS[language];
	const word = (of: string) => draw.pick(words[of]!);
	const base = (length: number) => ({
		length,
		cycleOf: (o: Ordinal) => Math.floor(o / length),
		seasonOf: (o: Ordinal) => (((o % length) + length) % length) + 1,
		cycle: draw.pick<(cycle: number) => string>([String, String, String, (c) => `FY${c}`]),
		cycleWord: word('year'),
	});
	switch (frequency) {
		case 'month': {
			const form = draw.pick(['short', 'long', 'long', 'number', 'upper', 'number2']);
			const names = MONTHS[language][form === 'long' ? 1 : 0]!;
			const spell = {
				short: (s: number) => names[s - 1]!,
				long: (s: number) => names[s - 1]!,
				upper: (s: number) => names[s - 1]!.toUpperCase(),
				number: String,
				number2: two,
			}[form]!;
			if (draw.chance(0.12) && !form.startsWith('number')) {
				// A business year from April on (or July, or October), named by the two years that it runs over.
				const begins = draw.pick([4, 4, 7, 10]);
				return {
					...base(12),
					name: `business years from ${begins}`,
					cycleOf: (o) => Math.floor((o - (begins - 1)) / 12),
					seasonOf: (o) => ((((o - (begins - 1)) % 12) + 12) % 12) + 1,
					cycle: (c) => `${c}/${short(c + 1)}`,
					season: (s) => spell(((s + begins - 2) % 12) + 1),
					seasonWord: word('month'),
				};
			}
			return { ...base(12), name: `months ${form}`, season: spell, seasonWord: word('month') };
		}
		case 'quarter': {
			if (draw.chance(0.25))
				return {
					...base(4),
					cycle: String,
					name: 'seasons of the year',
					season: (s) => SEASONS[language][s - 1]!,
					seasonWord: word('season'),
				};
			const spell = draw.pick<(s: number) => string>([
				(s) => `Q${s}`,
				(s) => `Q${s}`,
				String,
				...(language === 'de' ? [(s: number) => `${s}. Quartal`, (s: number) => `Quartal ${s}`] : []),
				...(language === 'fr' || language === 'es' ? [(s: number) => `T${s}`] : []),
			]);
			return { ...base(4), name: 'quarters', season: spell, seasonWord: word('quarter') };
		}
		case 'half-year': {
			const spell = draw.pick<(s: number) => string>([
				(s) => `H${s}`,
				...(language === 'de' ? [(s: number) => `${s}. Halbjahr`, (s: number) => `HJ${s}`] : []),
				...(language === 'fr' ? [(s: number) => `S${s}`] : []),
			]);
			return { ...base(2), name: 'half-years', season: spell, seasonWord: word('half-year') };
		}
		case 'week': {
			const iso = (o: Ordinal) => String(formatPeriod('week', o)).split('-W').map(Number) as [number, number];
			const spell = draw.pick<(s: number) => string>([
				(s) => `W${two(s)}`,
				(s) => (language === 'de' ? `KW ${s}` : `Week ${s}`),
				String,
			]);
			return {
				...base(53),
				cycle: String,
				name: 'weeks',
				cycleOf: (o) => iso(o)[0],
				seasonOf: (o) => iso(o)[1],
				season: spell,
				seasonWord: word('week'),
			};
		}
		case 'day':
		case 'weekday': {
			const length = frequency === 'day' ? 7 : 5;
			const spell = draw.pick<(cycle: number) => string>([
				(c) => String(formatPeriod('week', c)),
				(c) => {
					const [year, week] = String(formatPeriod('week', c)).split('-W');
					return language === 'de' ? `KW ${Number(week)}/${year}` : `Week ${Number(week)}, ${year}`;
				},
			]);
			return {
				...base(length),
				name: 'weekdays',
				cycleOf: (o) => Math.floor((frequency === 'day' ? o + 3 : o) / length),
				seasonOf: (o) => ((((frequency === 'day' ? o + 3 : o) % length) + length) % length) + 1,
				cycle: spell,
				season: (s) => WEEKDAYS[language][s - 1]!,
				cycleWord: word('week'),
				seasonWord: word('weekday'),
			};
		}
		case 'hour': {
			const style = draw.pick(['iso', language === 'de' ? 'dmy .' : 'iso']);
			return {
				...base(24),
				name: 'hours of days',
				cycle: (c) => DATES[style]!(c, language),
				season: draw.pick<(s: number) => string>([(s) => `${two(s - 1)}:00`, (s) => String(s - 1)]),
				cycleWord: word('day'),
				seasonWord: word('hour'),
			};
		}
		default:
			return null;
	}
}

const ITEM_WORDS = [
	'Chain',
	'Pedal',
	'Bell',
	'Rear rack',
	'Saddle',
	'Fork',
	'Tyre 28"',
	'Inner tube',
	'Brake pad',
	'Mudguard',
	'Spoke',
	'Grip, leather',
];
const FAMILIES = ['Brakes', 'Wheels', 'Frames'];

interface Item {
	code: string;
	name: string;
	unit: string;
	family: string;
}

function drawItems(count: number, draw: Draw): Item[] {
	const kind = draw.pick(['code', 'code', 'word', 'digits']);
	const start = draw.int(100, 900);
	return Array.from({ length: count }, (_, i) => ({
		code:
			kind === 'word'
				? ITEM_WORDS[i % ITEM_WORDS.length]! + (i >= ITEM_WORDS.length ? ` ${i}` : '')
				: kind === 'digits'
					? String(70_000 + start * 7 + i * 13)
					: `KB-${start + i * 3}`,
		name: ITEM_WORDS[(i + start) % ITEM_WORDS.length]!,
		unit: draw.pick(['pcs', 'pcs', 'kg', 'box']),
		family: FAMILIES[(i + start) % FAMILIES.length]!,
	}));
}

/** How figures are written in a table. */
interface Figures {
	name: string;
	decimals: number;
	least: number;
	most: number;
	write(value: number): string;
}

const groups = (value: number, decimals: number, mark: string, point: string) => {
	const [whole = '', part] = Math.abs(value).toFixed(decimals).split('.');
	const digits = whole.replace(/\B(?=(\d{3})+$)/g, mark);
	return `${value < 0 ? '-' : ''}${digits}${part ? point + part : ''}`;
};

function drawFigures(language: Language, draw: Draw): Figures {
	const european = language === 'de' || language === 'es' || language === 'fr';
	const plain = (name: string, least: number, most: number): Figures => ({
		name,
		decimals: 0,
		least,
		most,
		write: String,
	});
	const grouped = (decimals: number): Figures => {
		const mark = european
			? draw.pick(language === 'fr' ? [' ', '\u00a0', '.'] : ['.', '.', "'"])
			: draw.pick([',', ',', ' ']);
		const point = european ? ',' : '.';
		return {
			name: `grouped “${mark}” ${decimals}`,
			decimals,
			least: 150,
			most: 45_000,
			write: (value) => groups(value, decimals, mark, point),
		};
	};
	return draw.pick<() => Figures>([
		() => plain('small', 0, 40),
		() => plain('plain', 15, 900),
		() => plain('plain', 15, 900),
		() => plain('large', 1000, 90_000),
		() => ({
			name: 'decimals',
			decimals: 2,
			least: 2,
			most: 900,
			write: (value) => (european ? value.toFixed(2).replace('.', ',') : value.toFixed(2)),
		}),
		() => grouped(0),
		() => grouped(2),
		() => ({ ...plain('unit', 15, 900), write: (value) => `${value} ${draw.pick(['pcs'])}` }),
		() => ({
			...grouped(2),
			name: 'currency',
			write: (value) => (european ? `${groups(value, 2, '.', ',')} €` : `$${groups(value, 2, ',', '.')}`),
		}),
		() => ({
			name: 'thousands k',
			decimals: -2,
			least: 1000,
			most: 90_000,
			write: (value) =>
				`${european ? (value / 1000).toFixed(1).replace('.', ',') : (value / 1000).toFixed(1)}k`,
		}),
	])();
}

const LEAST: Partial<Record<Frequency, [number, number]>> = {
	month: [5, 48],
	quarter: [4, 24],
	'half-year': [4, 14],
	year: [3, 18],
	week: [5, 60],
	day: [6, 50],
	weekday: [6, 40],
	hour: [12, 60],
	step: [4, 30],
};
const FIRST: Partial<Record<Frequency, string>> = {
	month: '2021-01',
	quarter: '2019-Q1',
	'half-year': '2017-H1',
	year: '2005',
	week: '2023-W02',
	day: '2024-01-09',
	weekday: '2024-01-09',
	hour: '2024-02-11T05',
	step: '1',
};

type Dim = 'item' | 'period' | 'cycle' | 'season';

/** A table that a seed makes. */
export function makeTable(seed: number): MadeTable {
	const draw = new Draw(seed);
	const language = draw.pick<Language>(['en', 'en', 'en', 'de', 'de', 'fr', 'es', 'zh']);
	const frequency = draw.pick<Frequency>([
		'month',
		'month',
		'month',
		'month',
		'quarter',
		'quarter',
		'half-year',
		'year',
		'week',
		'week',
		'day',
		'weekday',
		'hour',
		'step',
	]);
	const split = draw.chance(0.45) ? splitSpelling(frequency, language, draw) : null;
	const single = split ? null : spellings(frequency, language, draw);
	const count = draw.chance(0.3) ? 1 : draw.int(2, 9);
	const items = drawItems(count, draw);
	const figures = drawFigures(language, draw);
	let first = parsePeriod(frequency, FIRST[frequency]!) + (frequency === 'step' ? 0 : draw.int(0, 40));
	let length = draw.int(...LEAST[frequency]!);
	if (split) {
		// At least two cycles, the first often whole.
		length = Math.max(length, Math.min(60, 2 * split.length));
		if (draw.chance(0.7)) first -= split.seasonOf(first) - 1;
		if (frequency === 'week') first = parsePeriod('week', `${split.cycleOf(first)}-W01`);
		if (draw.chance(0.4) && frequency !== 'week') length = Math.ceil(length / split.length) * split.length;
	}
	const ordinals = Array.from({ length }, (_, i) => first + i);
	const sparse = draw.chance(0.15);
	const holes = draw.chance(0.25) ? 0.06 : 0;
	const scale = 10 ** -figures.decimals;
	const truth = new Map<string, Map<Ordinal, number>>();
	for (const item of items) {
		const level = figures.least + (figures.most - figures.least) * draw.uniform() * 0.7;
		const series = new Map<Ordinal, number>();
		for (const [i, ordinal] of ordinals.entries()) {
			const edge = i === 0 || i === length - 1;
			if (!edge && draw.chance(holes)) continue;
			const drawn = level * (0.7 + 0.6 * draw.uniform());
			const rounded = Math.round(drawn / scale) * scale;
			const value = sparse && draw.chance(0.4) ? 0 : Number(rounded.toFixed(Math.max(0, figures.decimals)));
			series.set(ordinal, value);
		}
		truth.set(item.code, series);
	}
	const table = new TableMaker(draw, language, items, ordinals, truth, figures, single, split, frequency);
	const text = table.make();
	const alone = count === 1 && !table.named;
	return {
		seed,
		text,
		how: `${language} ${frequency} ${(single ?? split)!.name}; ${count} items; ${table.how.join(', ')}; ${figures.name}`,
		frequency,
		items: alone ? new Map([['', truth.get(items[0]!.code)!]]) : truth,
		labels: table.labelled ? new Map(items.map(({ code, family }) => [code, family])) : null,
		said: table.said,
		broken: table.broken,
	};
}

class TableMaker {
	readonly how: string[] = [];
	readonly said: Choices = {};
	broken = false;
	/** Whether the table names its items. */
	/** Whether its items are labelled. */
	labelled = false;
	named = false;
	readonly #missing: string;

	constructor(
		readonly draw: Draw,
		readonly language: Language,
		readonly items: readonly Item[],
		readonly ordinals: readonly Ordinal[],
		readonly truth: ReadonlyMap<string, ReadonlyMap<Ordinal, number>>,
		readonly figures: Figures,
		readonly single: Spelling | null,
		readonly split: SplitSpelling | null,
		readonly frequency: Frequency,
	) {
		this.#missing = draw.pick([
			'',
			'',
			'',
			'',
			'-',
			'–',
			'n/a',
			'NA',
			'x',
			'.',
			language === 'de' ? 'k.A.' : 'n.d.',
		]);
	}

	word(of: string): string {
		return this.draw.pick(WORDS[this.language][of]!);
	}

	make(): string {
		const rows = this.draw.chance(0.08) ? this.#blocks() : this.#rows(this.#sides());
		this.#surround(rows);
		return this.#write(rows);
	}

	/** A block for each item under its name, or for each stretch of periods, below each other. */
	#blocks(): string[][] {
		const { draw, split, items, ordinals } = this;
		const end = draw.chance(0.7) ? [['']] : [];
		const stacked = (blocks: string[][][]) =>
			blocks.flatMap((block, i) => (i === 0 ? block : [...end, ...block]));
		if (split === null && ordinals.length > 5 && draw.chance(0.5)) {
			const width = draw.pick([3, 4, 6]);
			this.named = true;
			this.how.push(`blocks of ${width} periods`);
			const corner = draw.chance(0.7) ? this.#heading('item') : '';
			const blocks: string[][][] = [];
			for (let at = 0; at < ordinals.length; at += width) {
				const some = ordinals.slice(at, at + width);
				blocks.push([
					[corner, ...some.map((o) => this.#label('period', o))],
					...items.map((item, i) => [
						item.code,
						...some.map((o) => this.#cell({ item: i, period: o }) ?? ''),
					]),
				]);
			}
			return stacked(blocks);
		}
		if (items.length === 1) return this.#rows(this.#sides());
		this.named = true;
		this.how.push('a block for each item');
		const sides: { down: Dim[]; across: Dim[] } = split
			? draw.pick<{ down: Dim[]; across: Dim[] }>([
					{ down: ['cycle'], across: ['season'] },
					{ down: ['season'], across: ['cycle'] },
				])
			: { down: [], across: ['period'] };
		return stacked(items.map((item, i) => [[item.code], ...this.#crosstab(sides, { item: i }).rows]));
	}

	/** Rows and columns of time alone, without totals. */
	#crosstab({ down, across }: { down: Dim[]; across: Dim[] }, fixed: Partial<Record<Dim, number>>) {
		const columns = this.#product(across);
		const lines = this.#product(down);
		const heads = across.map((dim) => [
			down.length > 0 ? this.#heading(down[0]!) : this.#heading(dim),
			...columns.map((at) => this.#label(dim, at[dim]!)),
		]);
		const word = this.word('figure');
		const body = lines.map((line) => [
			down.length > 0 ? this.#label(down[0]!, line[down[0]!]!) : word,
			...columns.map((column) => this.#cell({ ...fixed, ...line, ...column }) ?? ''),
		]);
		return { rows: [...heads, ...body] };
	}

	/** Which sides the item and the time stand on, any way round. */
	#sides(): { down: Dim[]; across: Dim[] } {
		const { draw, split, items } = this;
		const time: Dim[] = split ? ['cycle', 'season'] : ['period'];
		const many = items.length > 1;
		const all: Dim[] = many || draw.chance(0.25) ? ['item', ...time] : time;
		const forms: [Dim[], Dim[]][] = split
			? all.includes('item')
				? [
						[['item', 'cycle'], ['season']],
						[['cycle', 'season'], ['item']],
						[['item'], ['cycle', 'season']],
						[['item', 'cycle', 'season'], []],
						[['cycle', 'season', 'item'], []],
						[['cycle'], ['item', 'season']],
						[['season'], ['item', 'cycle']],
						[['season'], ['cycle', 'item']],
						[['item', 'season'], ['cycle']],
					]
				: [
						[['cycle'], ['season']],
						[['cycle'], ['season']],
						[['season'], ['cycle']],
						[['cycle', 'season'], []],
						[[], ['cycle', 'season']],
					]
			: all.includes('item')
				? [
						[['period'], ['item']],
						[['period'], ['item']],
						[['item'], ['period']],
						[['item'], ['period']],
						[['item', 'period'], []],
						[['period', 'item'], []],
					]
				: [
						[['period'], []],
						[['period'], []],
						[[], ['period']],
					];
		const [down, across] = draw.pick(forms);
		this.named = all.includes('item');
		return { down, across };
	}

	#values(dim: Dim): number[] {
		const { items, ordinals, split, draw } = this;
		const distinct = (of: (o: Ordinal) => number) => [...new Set(ordinals.map(of))].sort((a, b) => a - b);
		const list =
			dim === 'item'
				? items.map((_, i) => i)
				: dim === 'period'
					? [...ordinals]
					: dim === 'cycle'
						? distinct(split!.cycleOf)
						: distinct(split!.seasonOf);
		if (dim === 'period' && this.frequency !== 'step' && draw.chance(0.08)) {
			this.how.push('newest first');
			list.reverse();
		}
		return list;
	}

	#label(dim: Dim, value: number): string {
		if (dim === 'item') return this.items[value]!.code;
		if (dim === 'period') return this.single!.label(value);
		return dim === 'cycle' ? this.split!.cycle(value) : this.split!.season(value);
	}

	#heading(dim: Dim): string {
		if (dim === 'item') return this.word('item');
		if (dim === 'cycle') return this.split!.cycleWord;
		if (dim === 'season') return this.split!.seasonWord;
		return this.frequency === 'step' ? this.draw.pick(['Period', 't', 'No.']) : this.word(this.frequency);
	}

	/** The figure at a place that says item and time; null where there is no such period. */
	#cell(at: Partial<Record<Dim, number>>): string | null {
		const item = this.items[at.item ?? 0]!;
		const ordinal =
			at.period ??
			this.ordinals.find((o) => this.split!.cycleOf(o) === at.cycle && this.split!.seasonOf(o) === at.season);
		if (ordinal === undefined) return null;
		const value = this.truth.get(item.code)!.get(ordinal);
		return value === undefined ? this.#missing : this.figures.write(value);
	}

	#product(dims: readonly Dim[]): Partial<Record<Dim, number>>[] {
		let list: Partial<Record<Dim, number>>[] = [{}];
		for (const dim of dims) {
			const values = this.#values(dim);
			list = list.flatMap((at) => values.map((value) => ({ ...at, [dim]: value })));
		}
		return list;
	}

	#rows({ down, across }: { down: Dim[]; across: Dim[] }): string[][] {
		const { draw, split } = this;
		this.how.push(`${down.join('+') || 'one row'} down, ${across.join('+') || 'one column'} across`);
		const columns = this.#product(across);
		const lines = this.#product(down);
		// Names, units and labels of items beside their codes.
		const extra: ('name' | 'unit' | 'family')[] = [];
		if (down[0] === 'item' && draw.chance(0.35)) extra.push('name');
		if (down[0] === 'item' && draw.chance(0.2)) extra.push('unit');
		if (down[0] === 'item' && draw.chance(0.12)) {
			extra.push('family');
			this.labelled = true;
		}
		const headed = draw.chance(0.85) || across.length === 0;
		// Numbers alone say only under their heading what they are.
		const needsHeading = split !== null && /^\d+$/.test(split.season(1));
		const sideHeadings = headed || needsHeading || extra.length > 0;
		const once = draw.chance(0.35);
		if (once && (down.length > 1 || across.length > 1)) this.how.push('labels given once');
		const extraWord: Record<string, string> = { name: 'name', unit: 'unit', family: 'region' };
		const heads: string[][] = across.map((dim, level) => {
			const corner = down.flatMap((side) => {
				const word = sideHeadings && level === across.length - 1 ? this.#heading(side) : '';
				const more =
					side === 'item'
						? extra.map((each) => (level === across.length - 1 ? this.word(extraWord[each]!) : ''))
						: [];
				return [word, ...more];
			});
			// A row of its own has its label before it.
			if (down.length === 0) corner.push(sideHeadings ? this.#heading(dim) : '');
			const labels = columns.map((at, c) => {
				const same = once && level < across.length - 1 && c > 0 && columns[c - 1]![dim] === at[dim];
				return same ? '' : this.#label(dim, at[dim]!);
			});
			return [...corner, ...labels];
		});
		if (across.length === 0) {
			const withExtras = (dim: Dim) => [
				this.#heading(dim),
				...(dim === 'item' ? extra.map((each) => this.word(extraWord[each]!)) : []),
			];
			if (headed || down.length > 1) heads.push([...down.flatMap(withExtras), this.word('figure')]);
		}
		const body: string[][] = [];
		let before: Partial<Record<Dim, number>> | undefined;
		for (const at of lines) {
			const cells = columns.map((column) => this.#cell({ ...at, ...column }));
			if (cells.every((cell) => cell === null)) continue;
			const keys = down.flatMap((dim, level) => {
				const same = once && level < down.length - 1 && before?.[dim] === at[dim];
				const label = same ? '' : this.#label(dim, at[dim]!);
				return dim === 'item'
					? [label, ...extra.map((each) => (same ? '' : this.items[at.item!]![each]))]
					: [label];
			});
			if (down.length === 0) keys.push(this.word('figure'));
			before = at;
			body.push([...keys, ...cells.map((cell) => cell ?? '')]);
		}
		if (extra.length > 0) this.how.push(`with ${extra.join(' and ')}`);
		const keyCount = (heads[0] ?? body[0]!).length - columns.length;
		if (draw.chance(0.12) && this.#subtotals(heads, body, keyCount, columns, lines, across))
			return [...heads, ...body];
		if (across.length === 0 && heads.length > 0 && draw.chance(0.15)) {
			this.#measures(heads, body);
			return [...heads, ...body];
		}
		this.#total(heads, body, keyCount, columns, lines, down);
		if (draw.chance(0.02) && body.length > 2) {
			const r = draw.int(1, body.length - 1);
			const c = draw.int(keyCount, keyCount + columns.length - 1);
			if (/\d/.test(body[r]![c] ?? '')) {
				this.broken = true;
				body[r]![c] = body[r]![c]!.replace(/\d(?=\D*$)/, 'o7');
				this.how.push('a broken cell');
			}
		}
		return [...heads, ...body];
	}

	/** A price and a remark behind the demand of a long table. */
	#measures(heads: string[][], body: string[][]): void {
		const { draw } = this;
		if (draw.chance(0.6)) {
			this.how.push('a price');
			heads[0]!.push(this.word('price'));
			for (const row of body) row.push(this.figures.write(this.figures.least + draw.int(1, 9)));
		}
		if (draw.chance(0.6)) {
			this.how.push('a remark beside');
			heads[0]!.push(this.word('remark'));
			for (const row of body) row.push(draw.chance(0.1) ? draw.pick(['late', 'counted twice', 'fair']) : '');
		}
	}

	/** Quarters after their months, or years after their quarters, across or down. @returns whether there are any */
	#subtotals(
		heads: string[][],
		body: string[][],
		keys: number,
		columns: Partial<Record<Dim, number>>[],
		lines: Partial<Record<Dim, number>>[],
		across: Dim[],
	): boolean {
		const { split, frequency, figures, truth, items } = this;
		if (!split || split.name.startsWith('business') || split.name.startsWith('seasons')) return false;
		const size = frequency === 'month' ? 3 : frequency === 'quarter' ? 4 : 0;
		if (size === 0 || across.at(-1) !== 'season' || this.how.some((each) => each === 'newest first'))
			return false;
		const kept = lines.filter((line) =>
			columns.some((column) => this.#cell({ ...line, ...column }) !== null),
		);
		const label = (season: number) => (frequency === 'month' ? `Q${season / 3}` : this.word('total'));
		const value = (line: Partial<Record<Dim, number>>, column: Partial<Record<Dim, number>>) => {
			const at = { ...line, ...column };
			const ordinal = this.ordinals.find(
				(o) => split.cycleOf(o) === at.cycle && split.seasonOf(o) === at.season,
			);
			return (ordinal === undefined ? undefined : truth.get(items[at.item ?? 0]!.code)!.get(ordinal)) ?? 0;
		};
		let found = false;
		for (let c = columns.length - 1; c >= size - 1; c--) {
			const season = columns[c]!.season!;
			const part = columns.slice(c - size + 1, c + 1);
			if (season % size !== 0 || !part.every((at, i) => at.season === season - size + 1 + i)) continue;
			if (frequency === 'quarter' && season !== 4) continue;
			found = true;
			for (const [h, head] of heads.entries())
				head.splice(
					keys + c + 1,
					0,
					h === heads.length - 1 ? label(season) : head[keys + c] === '' ? '' : head[keys + c]!,
				);
			for (const [r, row] of body.entries())
				row.splice(keys + c + 1, 0, figures.write(part.reduce((sum, at) => sum + value(kept[r]!, at), 0)));
		}
		if (found) this.how.push('subtotals');
		return found;
	}

	/** Sums and averages beside and below. */
	#total(
		heads: string[][],
		body: string[][],
		keys: number,
		columns: Partial<Record<Dim, number>>[],
		lines: Partial<Record<Dim, number>>[],
		down: Dim[],
	): void {
		const { draw, figures } = this;
		const figureOf = (line: Partial<Record<Dim, number>>, column: Partial<Record<Dim, number>>) => {
			const at = { ...line, ...column };
			const ordinal =
				at.period ??
				this.ordinals.find(
					(o) => this.split!.cycleOf(o) === at.cycle && this.split!.seasonOf(o) === at.season,
				);
			return (
				(ordinal === undefined ? undefined : this.truth.get(this.items[at.item ?? 0]!.code)!.get(ordinal)) ??
				0
			);
		};
		const kept = lines.filter((line) =>
			columns.some((column) => this.#cell({ ...line, ...column }) !== null),
		);
		const right = columns.length > 2 && heads.length > 0 && draw.chance(0.18);
		const below = kept.length > 2 && down.length > 0 && draw.chance(0.18);
		if (right) {
			this.how.push('a total column');
			const label = this.word('total');
			for (const [h, head] of heads.entries()) head.push(h === heads.length - 1 ? label : '');
			for (const [r, row] of body.entries())
				row.push(figures.write(columns.reduce((sum, column) => sum + figureOf(kept[r]!, column), 0)));
		}
		if (below) {
			this.how.push('a total row');
			const sums = columns.map((column) => kept.reduce((sum, line) => sum + figureOf(line, column), 0));
			const row = [
				this.word('total'),
				...Array.from({ length: keys - 1 }, () => ''),
				...sums.map((sum) => figures.write(sum)),
			];
			if (right) row.push(figures.write(sums.reduce((a, b) => a + b, 0)));
			body.push(row);
		}
	}

	/** Titles above, remarks below, blank lines and columns. */
	#surround(rows: string[][]): void {
		const { draw } = this;
		if (draw.chance(0.2)) {
			this.how.push('titles');
			rows.unshift(
				[draw.pick(['Demand of the depot', 'Kestrel Bay, pieces sold', 'Absatz Lager', 'Report 2024'])],
				...(draw.chance(0.6) ? [['']] : []),
			);
		}
		if (draw.chance(0.12)) {
			this.how.push('a remark below');
			rows.push([''], [draw.pick(['* counted by hand', 'Source: depot ledger', 'printed on 3 May'])]);
		}
		if (draw.chance(0.04)) {
			this.how.push('a blank column');
			for (const row of rows) row.unshift('');
		}
	}

	#write(rows: string[][]): string {
		const { draw } = this;
		let separator = draw.pick([
			'\t',
			'\t',
			'\t',
			';',
			';',
			',',
			'|',
			'markdown',
			'runs',
			'box',
			'lines',
			'web',
			'blanks',
		]);
		// Single blanks part only what has none inside, and no blank cells.
		if (separator === 'blanks' && rows.some((row) => row.some((cell) => cell === '' || /\s/.test(cell))))
			separator = '\t';
		this.how.push(separator === '\t' ? 'tabs' : `“${separator}”`);
		const end = draw.chance(0.3) ? '\r\n' : '\n';
		const width = rows.reduce((widest, row) => Math.max(widest, row.length), 0);
		if (separator === 'blanks') return rows.map((row) => row.join(' ')).join(end);
		if (separator === 'web')
			return rows
				.map((row) => row.map((cell) => (draw.chance(0.3) ? ` ${cell}\u00a0` : cell)).join('\t'))
				.join(`${end}${end}`);
		if (separator === 'runs' || separator === 'box' || separator === 'lines') {
			const clean = rows.map((row) => row.map((cell) => cell.replaceAll('\u00a0', ' ')));
			const widths = Array.from({ length: width }, (_, c) =>
				Math.max(1, ...clean.map((row) => (row.length > 1 ? (row[c] ?? '').length : 0))),
			);
			if (separator === 'runs')
				return clean
					.map((row) =>
						row.length === 1 && width > 1
							? row[0]!
							: row
									.map((cell, c) => cell.padEnd(widths[c]!))
									.join('   ')
									.trimEnd(),
					)
					.join(end);
			if (separator === 'lines') {
				const bar = (left: string, cross: string, right: string) =>
					`${left}${widths.map((w) => '─'.repeat(w + 2)).join(cross)}${right}`;
				const drawn = clean.map((row) =>
					row.length === 1 && width > 1
						? row[0]!
						: `│ ${widths.map((w, c) => (row[c] ?? '').padEnd(w)).join(' │ ')} │`,
				);
				return [
					bar('┌', '┬', '┐'),
					...drawn.flatMap((line, i) => (i === 0 ? [line, bar('├', '┼', '┤')] : [line])),
					bar('└', '┴', '┘'),
				].join(end);
			}
			const rule = `+${widths.map((w) => '-'.repeat(w + 2)).join('+')}+`;
			const lines = clean.map((row) =>
				row.length === 1 && width > 1
					? row[0]!
					: `| ${widths.map((w, c) => (row[c] ?? '').padEnd(w)).join(' | ')} |`,
			);
			return [rule, ...lines, rule].join(end);
		}
		if (separator === 'markdown')
			return rows
				.map((row) =>
					row.length === 1 && width > 1
						? row[0]!
						: `| ${Array.from({ length: width }, (_, c) => row[c] ?? '').join(' | ')} |`,
				)
				.join(end);
		const quote = (cell: string) =>
			cell.includes(separator) || cell.includes('"') ? `"${cell.replaceAll('"', '""')}"` : cell;
		return rows.map((row) => row.map(quote).join(separator)).join(end) + end;
	}
}

/** How a reading compares with what a table says. */
export type Outcome = 'exactly' | 'in doubt' | 'asked' | 'silently';

/** Whether a reading has just the figures that a table says. */
export function isRight(reading: Reading, { frequency, items, labels }: MadeTable): boolean {
	if (reading.problem !== null || reading.items.some(({ problem }) => problem !== null)) return false;
	if (reading.frequency !== frequency || reading.items.length !== items.size) return false;
	return reading.items.every((item) => {
		if (labels && items.size > 1 && labels.get(item.code) !== item.labels[0]) return false;
		const expected = items.size === 1 ? [...items.values()][0] : items.get(item.code);
		if (!expected) return false;
		const present = item.values.flatMap((value, i) =>
			value === null ? [] : [[item.first + i, value] as const],
		);
		return (
			present.length === expected.size &&
			present.every(([ordinal, value]) => {
				const wanted = expected.get(ordinal);
				return wanted !== undefined && Math.abs(wanted - value) <= 1e-9 * Math.abs(wanted);
			})
		);
	});
}

/** Reads a table, and where it comes out otherwise, with each choice that its doubts offer. */
export function judge(table: MadeTable, read: (text: string, choices: Choices) => Reading): Outcome {
	const reading = read(table.text, table.said);
	const refused = reading.problem !== null || reading.items.some(({ problem }) => problem !== null);
	if (isRight(reading, table)) return 'exactly';
	if (table.broken) return refused ? 'exactly' : 'silently';
	const among = reading.doubts
		.flatMap(({ options }) => options)
		.some(({ choices }) => isRight(read(table.text, { ...table.said, ...choices }), table));
	if (among) return 'in doubt';
	return refused ? 'asked' : 'silently';
}
