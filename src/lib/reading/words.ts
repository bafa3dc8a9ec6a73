/**
 * Words that tables are labelled with, in English, German, French and Spanish. All are written as `plain`
 * makes them: small letters, no accents, no full stop at the end.
 */

/** Whether a cell is nothing but a year, which a figure may be as well. */
export const isBareYear = (cell: string): boolean => /^(?:19|20|21)\d\d$/.test(cell);

/** A label without case, accents, full stops and doubled blanks: “Févr.” is “fevr”. */
export function plain(label: string): string {
	return label
		.slice(0, 100)
		.normalize('NFD')
		.replace(/[\u0300-\u036f.:]/g, '')
		.replaceAll('ß', 'ss')
		.replaceAll('ı', 'i')
		.replace(/\s+/g, ' ')
		.trim()
		.toLowerCase()
		.replaceAll('ς', 'σ');
}

const numbered = (lists: readonly string[]) =>
	new Map(lists.flatMap((list, i) => list.split(' ').map((word): [string, number] => [word, i + 1])));
const SEASON_OF = numbered([
	'winter hiver invierno inverno vinter zima tel talvi 冬',
	'spring fruhling fruhjahr printemps primavera lente voorjaar var forar wiosna jaro kevat 春',
	'summer sommer ete verano estate verao zomer sommar lato leto nyar kesa 夏',
	'autumn fall herbst automne otono autunno outono herfst host efterar jesien podzim osz syksy 秋',
]);
/** 1 (winter) … 4 (autumn) of a season's name. */
export const seasonWordOf = (label: string): number | undefined => SEASON_OF.get(plain(label));

const NUMBER_OF = numbered([
	'i first erstes premier premiere primer primero',
	'ii second zweites deuxieme segundo',
	'iii third drittes troisieme tercer tercero',
	'iv fourth viertes quatrieme cuarto',
]);
/** 1 … 4 of a numeral or an ordinal number in words. */
export const numberOf = (word: string): number | undefined => NUMBER_OF.get(plain(word));

const inWords = (list: string) => new RegExp(`^(?:${list.replaceAll(' ', '|')})(?![a-z])`);
const TOTAL = inWords(
	'total totals sum subtotal sub-total gesamt summe insgesamt zwischensumme somme totaux suma totales totale totali totaal subtotaal totalt razem ogolem toplam итого всего разом общо вкупно укупно osszesen celkem spolu yhteensa summa ukupno skupaj kopa kokku jumlah συνολο total-geral',
);
/** The word alone, or with “no”, “code” or the like: “Part A” is no heading of parts. */
const wholly = (list: string) =>
	new RegExp(`^(?:${list.replaceAll(' ', '|')})(?:[ -/_]*(?:no|nr|nummer|number|code|id|#))?$`);
const GRAND_TOTAL = /(?:^|[^a-z])(?:total|totals|summe|gesamt)$|^(?:all|alle|overall|tous|toutes|todos)$/;
const AVERAGE = inWords(
	'average averages avg mean durchschnitt mittel mittelwert schnitt moyenne moy promedio media ø',
);

/** Sums that are carried from page to page. */
const CARRIED =
	/(?:^|\s)(?:(?:carried|brought) (?:forward|over|down)|carry-?over|c\/?f(?:wd)?|b\/?f(?:wd)?|ubertrag|a reporter|report|suma y sigue|suma anterior|riporto|a riportare|transport|do przeniesienia|z przeniesienia)$/;

/** Whether a label names a sum or an average of its neighbours rather than a series. */
export function isTotalLabel(label: string): boolean {
	const known = TOTALS_KNOWN.get(label);
	if (known !== undefined) return known;
	const word = plain(label);
	const is = TOTAL.test(word) || AVERAGE.test(word) || GRAND_TOTAL.test(word) || CARRIED.test(word);
	if (TOTALS_KNOWN.size > MOST_KNOWN) TOTALS_KNOWN.clear();
	TOTALS_KNOWN.set(label, is);
	return is;
}

/** Labels that were asked about: a table has the same ones in row after row. */
const TOTALS_KNOWN = new Map<string, boolean>();
const MOST_KNOWN = 50_000;

const CYCLE = inWords('year years yr jahr jahre annee an ano 年 fy cycle season-year');
const SEASON = inWords(
	'month months monat mois mes 月 quarter quarters qtr quartal trimestre half half-year halbjahr semestre week weeks wk woche kw semaine semana weekday wochentag day tag jour dia season saison jahreszeit temporada estacion period',
);
const PERIOD = inWords(
	'date datum fecha x n i j period periods periode periodo time zeit heure hora t month months monat mois mes quarter quartal trimestre week weeks woche kw semaine semana day tag jour dia year jahr annee ano timestamp hour stunde',
);
const ITEM = wholly(
	'item items plu ean gtin upc barcode matnr mpn indeks indeks-no polozka cikk cikkszam vare varenr varenummer artikkeli tuote urun артикул товар ειδος kood preke prece item-code sku code codigo article articles artikel artikelnummer artikelnr material part parts teil teilenummer teilenr product products produkt produit producto articulo id no nr number nummer reference ref',
);
const NAME = inWords(
	'name description bezeichnung beschreibung designation libelle nombre descripcion text title',
);
const UNIT = wholly('unit units uom einheit einheiten unite unites unidad unidades me');
/** What a column or a row of figures may be of, beside others of the same items. */
export type QuantityWord = 'demand' | 'count' | 'plan' | 'return' | 'stock' | 'receipt' | 'money' | 'derived';
const QUANTITIES: Readonly<Record<QuantityWord, string>> = {
	demand:
		'demand sale sales sold goods-issue dispatch shipment delivery issues issued issue usage used consumption consumed shipped shipments despatched dispatched delivered deliveries actual actuals orders ordered absatz bedarf verbrauch abgang abgange ausgang ist verkauf verkauft ventes consommation sorties sortie realise ventas demanda demande consumo salidas salida vendido vendidos vendite venduto uscite verkoop verbruik werkelijk forbrug salg forbrukning sprzedaz zuzycie this',
	count:
		'quantity qty quantite qte cantidad menge values units pieces pcs piezas stuck stk umsatzmenge figure figures volume count aantal antal ilosc quantita',
	plan: 'budget plan planned forecast target soll prognose prognosis prevision previsto estimate objectif objetivo ziel begroting plan-menge',
	return:
		'returns returned return credit credits credited retoure retouren rucksendung ruckgabe retours retour devoluciones devolucion resi gutschrift',
	stock:
		'stock opening closing open close balance on-hand inventory bestand anfangsbestand endbestand lagerbestand schlussbestand existencias inventario saldo giacenza voorraad',
	receipt:
		'received receipts receipt receiving inbound purchased purchases zugang zugange eingang wareneingang entrees entree recu entradas entrada recibido acquisti ontvangen',
	money:
		'price prices unit-price cost costs discount value amount revenue turnover margin profit sales-value preis erlos umsatz marge stuckpreis kosten rabatt wert betrag prix cout remise montant precio coste descuento importe chiffre eur usd gbp',
	derived:
		'days tage jours dias giorni dagen net netto rate weight index change growth share error deviation variance difference diff ytd cumulative cumulated cum running year-to-date to-date last previous prior vs abweichung anteil veranderung vorjahr kumuliert aufgelaufen ecart variation cumul desviacion gewicht poids peso acumulado',
};
/** A word of one of them that begins a heading: “Sales qty”, “Budget 2024”. */
const QUANTITY_PATTERNS = (Object.keys(QUANTITIES) as QuantityWord[]).map(
	(says) => [says, inWords(QUANTITIES[says])] as const,
);
/** Words that say it only in a row of such words. */
const IN_CONTEXT: Readonly<Record<string, QuantityWord>> = {
	in: 'receipt',
	out: 'demand',
	'+': 'receipt',
	'-': 'demand',
};
/** What is worked out from others, wherever the word for it stands. */
const DERIVED =
	/%|^(?:[+∆±]|δ(?!\p{L}))|[/] ?[-+]|(?:^| )(?:ytd|year to date|to date|cumulative|last year|previous year|prior year|per cent|percent|share|change|variance|vorjahr|per day|a day|pro tag|par jour)(?: |$)/u;
const MONEY = /[€$£¥]|(?:^| )(?:value|eur|usd|gbp|chf|price|cost|revenue|turnover|umsatz)(?: |$)/;
const RETURNED = /(?:^| )(?:returns|returned|retouren|retours|devoluciones)(?: |$)/;
const STOCKED = /(?:(?:^| )(?:stock|inventory|balance|on hand)|bestand)$/;
/** What came in and what went out, whatever it is counted in. */
const CAME_IN = /\S in$/;
const WENT_OUT = /\S out$/;
const PLANNED = /(?:^| )(?:budget|plan|planned|forecast|target)$/;

/** Which quantity a label names; null for none that is known. */
export function quantitySays(label: string): QuantityWord | null {
	const word = plain(label);
	if (word === '') return null;
	if (DERIVED.test(word)) return 'derived';
	if (RETURNED.test(word)) return 'return';
	if (CAME_IN.test(word)) return 'receipt';
	if (WENT_OUT.test(word)) return 'demand';
	if (PLANNED.test(word)) return 'plan';
	if (STOCKED.test(word)) return 'stock';
	if (MONEY.test(word)) return 'money';
	return QUANTITY_PATTERNS.find(([, pattern]) => pattern.test(word))?.[0] ?? IN_CONTEXT[word] ?? null;
}
const FIGURE = inWords(`${QUANTITIES.demand.replace(' this', '')} ${QUANTITIES.count} umsatz`);

/** What tells lines apart that is neither item nor time nor demand. */
const OTHER = wholly(
	'order invoice document line pos position row customer client buyer auftrag beleg rechnung kunde commande facture ligne pedido factura linea cliente zip plz phone',
);
/** Numbers that are counted beside demand. */
const MEASURE = inWords(
	'price prices unit-price cost costs discount rate weight stock value amount revenue turnover margin profit index change growth share forecast plan budget target error deviation prognose abweichung anteil veranderung prevision ecart variation desviacion preis erlos marge stuckpreis kosten rabatt gewicht bestand wert betrag prix cout remise poids montant precio coste descuento peso importe',
);

const PRICE = /(?:price|preis|prix|precio|stock|bestand)s?$/;

/** What sets items apart into groups. */
const LABEL = wholly(
	'family families group category class type site supplier vendor region country area warehouse depot store branch location plant planner brand maker manufacturer department segment channel range collection ' +
		'familie warengruppe gruppe produktgruppe kategorie klasse typ standort lieferant land gebiet lager werk filiale disponent marke hersteller abteilung segment ' +
		'famille groupe categorie classe fournisseur pays secteur entrepot magasin agence lieu marque fabricant gamme ' +
		'familia grupo categoria clase tipo sede proveedor pais zona almacen tienda sucursal ubicacion marca fabricante gama',
);

const COUNTER =
	/^(?:#|n|no|nr|number|nummer|row|rows|line|ligne|linea|zeile|pos|position|index|idx|rank|rang|rango|lfd|lfd ?nr|lp|seq|unnamed ?\d*|column ?\d*|spalte ?\d*)$/;
/** Whether a heading, or its lack, leaves it open that the numbers below only count the rows. */
export const isCounterHeading = (heading: string): boolean => {
	const word = plain(heading).replace(/[°º)]/g, '');
	return word === '' || COUNTER.test(word);
};

/** What a heading says that its column holds; null where it is no such word. */
export function headingSays(
	label: string,
):
	'cycle' | 'season' | 'period' | 'item' | 'name' | 'unit' | 'label' | 'figure' | 'measure' | 'other' | null {
	const word = plain(label);
	if (/^stock[ -]?(?:no|nr|number|code|id)$/.test(word)) return 'item';
	if (OTHER.test(word)) return 'other';
	if (CYCLE.test(word)) return 'cycle';
	if (SEASON.test(word)) return 'season';
	if (PERIOD.test(word) || /(?:date|datum|fecha)$/.test(word)) return 'period';
	if (NAME.test(word) || /(?:name|description|bezeichnung)$/.test(word)) return 'name';
	if (ITEM.test(word)) return 'item';
	if (UNIT.test(word)) return 'unit';
	if (LABEL.test(word) || /(?:gruppe|familie|kategorie|family|group|category)$/.test(word)) return 'label';
	if (MEASURE.test(word) || PRICE.test(word)) return 'measure';
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

const PIECES = new Set(
	'pcs pc pce piece pieces unit units ea each stk stuck st stck stueck pieza piezas unidad unidades uds ud unite unites'.split(
		' ',
	),
);

/** Whether two units are one, spelt in two ways. */
export function sameUnit(one: string, other: string): boolean {
	const [a, b] = [one, other].map((unit) => {
		const word = plain(unit);
		return PIECES.has(word) ? 'pcs' : word.replace(/(?:es|s|en|e|n)$/, '');
	});
	return a === b;
}

/** A unit without its brackets: “(pcs)” is “pcs”. */
export const bareUnit = (label: string): string =>
	label === ''
		? ''
		: label
				.trim()
				.replace(/^[([](.*)[)\]]$/, '$1')
				.replace(/^in /i, '');

/** Whether a heading says that numbers below it are periods or parts of one. */
export const saysPeriods = (heading: string): boolean =>
	['period', 'season', 'cycle'].includes(headingSays(heading) ?? '');

const CANCELLED =
	/^(?:cancel|canceled|cancelled|cancellation|void|voided|storno|storniert|annule|annulee|annulation|anulado|anulada|cancelado|cancelada|取消|已取消|キャンセル|취소)$/;
const YES = /^(?:yes|y|true|1|x|✓|✔|ja|j|wahr|oui|o|vrai|si|s|verdadero|はい|是)$/;

/** Whether a cell says that its line was cancelled: “cancelled”, or “yes” below that word. */
export function isCancelled(cell: string, heading: string): boolean {
	if (cell === '') return false;
	const word = plain(cell);
	return CANCELLED.test(word) || (YES.test(word) && CANCELLED.test(plain(heading)));
}
