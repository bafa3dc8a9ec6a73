/**
 * Words that tables are labelled with, in English, German, French and Spanish. All are written as `plain`
 * makes them: small letters, no accents, no full stop at the end.
 */

/** A label without case, accents, full stops and doubled blanks: “Févr.” is “fevr”. */
export function plain(label: string): string {
	return label
		.slice(0, 100)
		.normalize('NFD')
		.replace(/[\u0300-\u036f.:]/g, '')
		.replaceAll('ß', 'ss')
		.replace(/\s+/g, ' ')
		.trim()
		.toLowerCase();
}

const MONTHS = [
	'jan january januar janner janvier janv enero ene',
	'feb february februar febr fevrier fevr fev febrero',
	'mar march marz maerz mrz mars marzo',
	'apr april avril avr abril abr',
	'may mai mayo',
	'jun june juni juin junio',
	'jul july juli juillet juil julio',
	'aug august aout agosto ago',
	'sep september sept septembre septiembre setiembre',
	'oct october oktober okt octobre octubre',
	'nov november novembre noviembre',
	'dec december dezember dez decembre diciembre dic',
];

const WEEKDAYS = [
	'mon monday montag mo lundi lun lunes',
	'tue tuesday tues dienstag di mardi martes mar',
	'wed wednesday mittwoch mi mercredi mer miercoles mie',
	'thu thursday thur thurs donnerstag do jeudi jeu jueves jue',
	'fri friday freitag fr vendredi ven viernes vie',
	'sat saturday samstag sa samedi sam sabado sab sonnabend',
	'sun sunday sonntag so dimanche dim domingo dom',
];

const numbered = (lists: readonly string[]) =>
	new Map(lists.flatMap((list, i) => list.split(' ').map((word): [string, number] => [word, i + 1])));
const MONTH_OF = numbered(MONTHS);
const WEEKDAY_OF = numbered(WEEKDAYS);

/** 1 … 12 of a month's name; undefined for any other word. */
export const monthOf = (label: string): number | undefined => MONTH_OF.get(plain(label));
/** 1 (Monday) … 7 of a weekday's name. */
export const weekdayOf = (label: string): number | undefined => WEEKDAY_OF.get(plain(label));

const inWords = (list: string) => new RegExp(`^(?:${list.replaceAll(' ', '|')})(?![a-z])`);
const TOTAL = inWords(
	'total totals sum subtotal sub-total gesamt summe insgesamt zwischensumme somme totaux suma totales',
);
/** The word alone, or with “no”, “code” or the like: “Part A” is no heading of parts. */
const wholly = (list: string) =>
	new RegExp(`^(?:${list.replaceAll(' ', '|')})(?:[ -/_]*(?:no|nr|nummer|number|code|id|#))?$`);
const GRAND_TOTAL = /(?:^|[^a-z])(?:total|totals|summe|gesamt)$/;
const AVERAGE = inWords(
	'average averages avg mean durchschnitt mittel mittelwert schnitt moyenne moy promedio media ø',
);

/** Whether a label names a sum or an average of its neighbours rather than a series. */
export function isTotalLabel(label: string): boolean {
	const word = plain(label);
	return TOTAL.test(word) || AVERAGE.test(word) || GRAND_TOTAL.test(word);
}

const CYCLE = inWords('year years yr jahr jahre annee an ano fy cycle season-year');
const SEASON = inWords(
	'month months monat mois mes quarter quarters quartal trimestre week weeks woche kw semaine semana weekday wochentag day tag jour dia season period',
);
const PERIOD = inWords(
	'date datum fecha x n i j period periods periode periodo time zeit t month months monat mois mes quarter quartal trimestre week weeks woche kw semaine semana day tag jour dia year jahr annee ano timestamp hour stunde',
);
const ITEM = wholly(
	'item items sku code article artikel artikelnummer artikelnr material part product produkt produit producto articulo id no nr number nummer reference ref',
);
const NAME = inWords(
	'name description bezeichnung beschreibung designation libelle nombre descripcion text title',
);
const UNIT = wholly('unit units uom einheit einheiten unite unites unidad unidades me');
const FIGURE = inWords(
	'demand quantity qty quantite cantidad menge value values wert sales sold units pieces absatz umsatz ventes ventas figure figures volume amount bedarf actual actuals orders',
);

/** What a heading says that its column holds; null where it is no such word. */
export function headingSays(
	label: string,
): 'cycle' | 'season' | 'period' | 'item' | 'name' | 'unit' | 'figure' | null {
	const word = plain(label);
	if (CYCLE.test(word)) return 'cycle';
	if (SEASON.test(word)) return 'season';
	if (PERIOD.test(word)) return 'period';
	if (NAME.test(word) || /(?:name|description|bezeichnung)$/.test(word)) return 'name';
	if (ITEM.test(word)) return 'item';
	if (UNIT.test(word)) return 'unit';
	return FIGURE.test(word) ? 'figure' : null;
}

const UNITS = new Set(
	(
		'pcs pc pce piece pieces unit units ea each stk stuck st stck stueck kg g t l ml m cm box boxes pack packs pallet pallets pair pairs ' +
		'set sets dozen doz case cases carton cartons paar satz karton piezas pieza unidades uds ud unites pieces usd eur gbp chf'
	).split(' '),
);

/** Whether a label is a unit: “pcs”, “(kg)”, “in boxes”, “€”. */
export function isUnitLabel(label: string): boolean {
	const word = plain(label)
		.replace(/^in /, '')
		.replace(/^[([](.*)[)\]]$/, '$1');
	return UNITS.has(word) || /^[€$£¥%]$/.test(word) || /^[([].*[)\]]$/.test(label.trim());
}

/** A unit without its brackets: “(pcs)” is “pcs”. */
export const bareUnit = (label: string): string =>
	label
		.trim()
		.replace(/^[([](.*)[)\]]$/, '$1')
		.replace(/^in /i, '');

/** Whether a heading says that numbers below it are periods or parts of one. */
export const saysPeriods = (heading: string): boolean =>
	['period', 'season', 'cycle'].includes(headingSays(heading) ?? '');
