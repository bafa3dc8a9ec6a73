import { plain } from './words';

/**
 * Names of months and weekdays, by language: twelve and seven lists, each with the forms of one. All are written as `plain` makes them,
 * with a low line for a blank. What `Intl` has for these languages is among them; a test holds them to it.
 */
const LANGUAGES: Readonly<Record<string, readonly [months: string, weekdays: string]>> = {
	en: [
		'january jan|february feb|march mar|april apr|may|june jun|july jul|august aug|september sep sept|october oct|november nov|december dec',
		'monday mon|tuesday tue tues|wednesday wed|thursday thu thur thurs|friday fri|saturday sat|sunday sun',
	],
	de: [
		'januar jan janner jaenner|februar feb feber|marz mar mrz maerz|april apr|mai|juni jun|juli jul|august aug|september sep sept|oktober okt|november nov|dezember dez',
		'montag mo|dienstag di|mittwoch mi|donnerstag do|freitag fr|samstag sa sonnabend|sonntag so',
	],
	fr: [
		'janvier janv jan|fevrier fevr fev|mars|avril avr|mai|juin|juillet juil|aout|septembre sept|octobre oct|novembre nov|decembre dec',
		'lundi lun|mardi mar|mercredi mer|jeudi jeu|vendredi ven|samedi sam|dimanche dim',
	],
	es: [
		'enero ene|febrero feb|marzo mar|abril abr|mayo may|junio jun|julio jul|agosto ago|septiembre sept sep setiembre|octubre oct|noviembre nov|diciembre dic',
		'lunes lun|martes mar|miercoles mie|jueves jue|viernes vie|sabado sab|domingo dom',
	],
	it: [
		'gennaio gen|febbraio feb|marzo mar|aprile apr|maggio mag|giugno giu|luglio lug|agosto ago|settembre set|ottobre ott|novembre nov|dicembre dic',
		'lunedi lun|martedi mar|mercoledi mer|giovedi gio|venerdi ven|sabato sab|domenica dom',
	],
	pt: [
		'janeiro jan|fevereiro fev|marco mar|abril abr|maio mai|junho jun|julho jul|agosto ago|setembro set|outubro out|novembro nov|dezembro dez',
		'segunda-feira seg|terca-feira ter|quarta-feira qua|quinta-feira qui|sexta-feira sex|sabado sab|domingo dom',
	],
	nl: [
		'januari jan|februari feb|maart mrt|april apr|mei|juni jun|juli jul|augustus aug|september sep sept|oktober okt|november nov|december dec',
		'maandag ma|dinsdag di|woensdag wo|donderdag do|vrijdag vr|zaterdag za|zondag zo',
	],
	sv: [
		'januari jan|februari feb|mars|april apr|maj|juni jun|juli jul|augusti aug|september sep sept|oktober okt|november nov|december dec',
		'mandag man|tisdag tis|onsdag ons|torsdag tors|fredag fre|lordag lor|sondag son',
	],
	da: [
		'januar jan|februar feb|marts mar|april apr|maj|juni jun|juli jul|august aug|september sep|oktober okt|november nov|december dec',
		'mandag man|tirsdag tirs|onsdag ons|torsdag tors|fredag fre|lørdag lør|søndag søn',
	],
	nb: [
		'januar jan|februar feb|mars mar|april apr|mai|juni jun|juli jul|august aug|september sep|oktober okt|november nov|desember des',
		'mandag man|tirsdag tir|onsdag ons|torsdag tor|fredag fre|lørdag lør|søndag søn',
	],
	fi: [
		'tammikuu tammikuuta tammi|helmikuu helmikuuta helmi|maaliskuu maaliskuuta maalis|huhtikuu huhtikuuta huhti|toukokuu toukokuuta touko|kesakuu kesakuuta kesa|heinakuu heinakuuta heina|elokuu elokuuta elo|syyskuu syyskuuta syys|lokakuu lokakuuta loka|marraskuu marraskuuta marras|joulukuu joulukuuta joulu',
		'maanantai ma|tiistai ti|keskiviikko ke|torstai to|perjantai pe|lauantai la|sunnuntai su',
	],
	is: [
		'januar jan|februar feb|mars mar|april apr|mai|juni jun|juli jul|agust agu|september sep|oktober okt|november nov|desember des',
		'manudagur man|þriðjudagur þri|miðvikudagur mið|fimmtudagur fim|fostudagur fos|laugardagur lau|sunnudagur sun',
	],
	et: [
		'jaanuar jaan|veebruar veebr|marts|aprill apr|mai|juuni|juuli|august aug|september sept|oktoober okt|november nov|detsember dets',
		'esmaspaev e|teisipaev t|kolmapaev k|neljapaev n|reede r|laupaev l|puhapaev p',
	],
	lv: [
		'janvaris janv|februaris febr|marts|aprilis apr|maijs|junijs jun|julijs jul|augusts aug|septembris sept|oktobris okt|novembris nov|decembris dec',
		'pirmdiena pirmd|otrdiena otrd|tresdiena tresd|ceturtdiena ceturtd|piektdiena piektd|sestdiena sestd|svetdiena svetd',
	],
	lt: [
		'sausis sausio|vasaris vasario|kovas kovo|balandis balandzio|geguze geguzes|birzelis birzelio|liepa liepos|rugpjutis rugpjucio|rugsejis rugsejo|spalis spalio|lapkritis lapkricio|gruodis gruodzio',
		'pirmadienis pr|antradienis an|treciadienis tr|ketvirtadienis kt|penktadienis pn|sestadienis st|sekmadienis sk',
	],
	pl: [
		'styczen stycznia sty|luty lutego lut|marzec marca mar|kwiecien kwietnia kwi|maj maja|czerwiec czerwca cze|lipiec lipca lip|sierpien sierpnia sie|wrzesien wrzesnia wrz|pazdziernik pazdziernika paz|listopad listopada lis|grudzien grudnia gru',
		'poniedziałek pon|wtorek wt|sroda sr|czwartek czw|piatek pt|sobota sob|niedziela niedz',
	],
	cs: [
		'leden ledna led|unor unora uno|brezen brezna bre|duben dubna dub|kveten kvetna kve|cerven cervna cvn|cervenec cervence cvc|srpen srpna srp|zari zar|rijen rijna rij|listopad listopadu lis|prosinec prosince pro',
		'pondeli po|utery ut|streda st|ctvrtek ct|patek pa|sobota so|nedele ne',
	],
	sk: [
		'januar januara jan|februar februara feb|marec marca mar|april aprila apr|maj maja|jun juna|jul jula|august augusta aug|september septembra sep|oktober oktobra okt|november novembra nov|december decembra dec',
		'pondelok po|utorok ut|streda st|stvrtok st|piatok pi|sobota so|nedela ne',
	],
	hu: [
		'januar jan|februar febr|marcius marc|aprilis apr|majus maj|junius jun|julius jul|augusztus aug|szeptember szept|oktober okt|november nov|december dec',
		'hetfo h|kedd k|szerda sze|csutortok cs|pentek p|szombat szo|vasarnap v',
	],
	ro: [
		'ianuarie ian|februarie feb|martie mar|aprilie apr|mai|iunie iun|iulie iul|august aug|septembrie sept|octombrie oct|noiembrie nov|decembrie dec',
		'luni lun|marti mar|miercuri mie|joi|vineri vin|sambata sam|duminica dum',
	],
	bg: [
		'януари яну|февруари фев|март мар|април апр|маи|юни|юли|август авг|септември сеп септ|октомври окт|ноември ное ноем|декември дек',
		'понеделник пн|вторник вт|сряда ср|четвъртък чт|петък пт|събота сб|неделя нд',
	],
	hr: [
		'sijecanj sijecnja sij|veljaca veljace velj|ozujak ozujka ozu|travanj travnja tra|svibanj svibnja svi|lipanj lipnja lip|srpanj srpnja srp|kolovoz kolovoza kol|rujan rujna ruj|listopad listopada lis|studeni studenoga stu|prosinac prosinca pro',
		'ponedjeljak pon|utorak uto|srijeda sri|cetvrtak cet|petak pet|subota sub|nedjelja ned',
	],
	sr: [
		'јануар јан|фебруар феб|март мар|април апр|мај|јун|јул|август авг|септембар сеп|октобар окт|новембар нов|децембар дец',
		'понедељак пон|уторак уто|среда сре|четвртак чет|петак пет|субота суб|недеља нед',
	],
	'sr-Latn': [
		'januar jan|februar feb|mart mar|april apr|maj|jun|jul|avgust avg|septembar sep|oktobar okt|novembar nov|decembar dec',
		'ponedeljak pon|utorak uto|sreda sre|cetvrtak cet|petak pet|subota sub|nedelja ned',
	],
	sl: [
		'januar jan|februar feb|marec mar|april apr|maj|junij jun|julij jul|avgust avg|september sep|oktober okt|november nov|december dec',
		'ponedeljek pon|torek tor|sreda sre|cetrtek cet|petek pet|sobota sob|nedelja ned',
	],
	mk: [
		'јануари јан|февруари фев|март мар|април апр|мај|јуни јун|јули јул|август авг|септември сеп|октомври окт|ноември ное|декември дек',
		'понеделник пон|вторник вто|среда сре|четврток чет|петок пет|сабота саб|недела нед',
	],
	sq: [
		'janar jan|shkurt shk|mars mar|prill pri|maj|qershor qer|korrik korr|gusht gush|shtator sht|tetor tet|nentor nen|dhjetor dhj',
		'e_hene hen|e_marte mar|e_merkure mer|e_enjte enj|e_premte pre|e_shtune sht|e_diel die',
	],
	el: [
		'ιανουαριου ιαν ιανουαριοσ|φεβρουαριου φεβ φεβρουαριοσ|μαρτιου μαρ μαρτιοσ|απριλιου απρ απριλιοσ|μαιου μαι μαιοσ|ιουνιου ιουν ιουνιοσ|ιουλιου ιουλ ιουλιοσ|αυγουστου αυγ αυγουστοσ|σεπτεμβριου σεπ σεπτεμβριοσ|οκτωβριου οκτ οκτωβριοσ|νοεμβριου νοε νοεμβριοσ|δεκεμβριου δεκ δεκεμβριοσ',
		'δευτερα δευ|τριτη τρι|τεταρτη τετ|πεμπτη πεμ|παρασκευη παρ|σαββατο σαβ|κυριακη κυρ',
	],
	tr: [
		'ocak oca|subat sub|mart mar|nisan nis|mayis may|haziran haz|temmuz tem|agustos agu|eylul eyl|ekim eki|kasim kas|aralik ara',
		'pazartesi pzt|sali sal|carsamba car|persembe per|cuma cum|cumartesi cmt|pazar paz',
	],
	uk: [
		'січень січня січ|лютии лютого лют|березень березня бер|квітень квітня квіт|травень травня трав|червень червня черв|липень липня лип|серпень серпня серп|вересень вересня вер|жовтень жовтня жовт|листопад листопада лист|грудень грудня груд',
		'понеділок пн|вівторок вт|середа ср|четвер чт|пʼятниця пт|субота сб|неділя нд',
	],
	ru: [
		'январь января янв|февраль февраля февр|март марта мар мар|апрель апреля апр|маи мая май|июнь июня июн июн|июль июля июл июл|август августа авг|сентябрь сентября сент сен|октябрь октября окт|ноябрь ноября нояб ноя|декабрь декабря дек',
		'понедельник пн|вторник вт|среда ср|четверг чт|пятница пт|суббота сб|воскресенье вс',
	],
	be: [
		'студзень студзеня сту|люты лютага лют|сакавік сакавіка сак|красавік красавіка кра|маи мая|чэрвень чэрвеня чэр|ліпень ліпеня ліп|жнівень жніуня жні|верасень верасня вер|кастрычнік кастрычніка кас|лістапад лістапада ліс|снежань снежня сне',
		'панядзелак пн|ауторак ау|серада ср|чацвер чц|пятніца пт|субота сб|нядзеля нд',
	],
	ca: [
		'gener gen|febrer febr|marc|abril abr|maig|juny|juliol jul|agost ag|setembre set|octubre oct|novembre nov|desembre des',
		'dilluns dl|dimarts dt|dimecres dc|dijous dj|divendres dv|dissabte ds|diumenge dg',
	],
	gl: [
		'xaneiro xan|febreiro feb|marzo mar|abril abr|maio|xuno|xullo xul|agosto ago|setembro set|outubro out|novembro nov|decembro dec',
		'luns|martes mar|mercores mer|xoves xov|venres ven|sabado sab|domingo dom',
	],
	eu: [
		'urtarrila urt|otsaila ots|martxoa mar|apirila api|maiatza mai|ekaina eka|uztaila uzt|abuztua abu|iraila ira|urria urr|azaroa aza|abendua abe',
		'astelehena al|asteartea ar|asteazkena az|osteguna og|ostirala or|larunbata lr|igandea ig',
	],
	ga: [
		'eanair ean|feabhra feabh|marta|aibrean aib|bealtaine beal|meitheamh meith|iuil|lunasa lun|mfomh mean_fomhair|dfomh deireadh_fomhair|samhain samh|nollaig noll',
		'luain luan|mairt|ceadaoin cead|deardaoin dear|haoine aoine|sathairn sath|domhnaigh domh',
	],
	id: [
		'januari jan|februari feb|maret mar|april apr|mei|juni jun|juli jul|agustus agu|september sep|oktober okt|november nov|desember des',
		'senin sen|selasa sel|rabu rab|kamis kam|jumat jum|sabtu sab|minggu min',
	],
};

type Known = ReadonlyMap<string, number>;
const numbered = (lists: string): Known =>
	new Map(
		lists
			.split('|')
			.flatMap((list, i) =>
				list.split(' ').map((word): [string, number] => [word.replaceAll('_', ' '), i + 1]),
			),
	);
const MONTHS = Object.values(LANGUAGES).map(([months]) => numbered(months));
const WEEKDAYS = Object.values(LANGUAGES).map(([, weekdays]) => numbered(weekdays));

/** Languages whose short names are known by themselves: tables seldom say others without a whole row of them. */
const USUAL = 4;
/** A name this long is no code or word of something else. */
const LONG = 5;

/** Names that mean the same in every language that has them; short ones of the usual languages alone. */
function common(languages: readonly Known[]): Known {
	const found = new Map<string, number>();
	const several = new Set<string>();
	for (const [i, names] of languages.entries())
		for (const [name, number] of names) {
			const before = found.get(name);
			if (before !== undefined && before !== number && i >= USUAL) several.add(name);
			if (before === undefined && (i < USUAL || name.length >= LONG)) found.set(name, number);
		}
	for (const name of several)
		if (!languages.slice(0, USUAL).some((names) => names.has(name))) found.delete(name);
	return found;
}
const COMMON_MONTHS = common(MONTHS);
const COMMON_WEEKDAYS = common(WEEKDAYS);

/** 1 … 12 of a month’s name; undefined for any other word. */
export type MonthOf = (label: string) => number | undefined;

/** A name without what stands around it in a date: “de gener”, “d’abril”. */
const bare = (label: string) => plain(label).replace(/^(?:de |d[’'])/, '');
const monthBy =
	(names: Known): MonthOf =>
	(label) => {
		const counted = /^(\d{1,2})[月월]$/.exec(label)?.[1];
		const month = counted === undefined ? names.get(bare(label)) : Number(counted);
		return month !== undefined && month >= 1 && month <= 12 ? month : undefined;
	};

export const monthOf: MonthOf = monthBy(COMMON_MONTHS);
/** 1 (Monday) … 7 of a weekday’s name. */
export const weekdayOf = (label: string): number | undefined => COMMON_WEEKDAYS.get(plain(label));

const BY_LANGUAGE = MONTHS.map(monthBy);
/** Readers of the languages in which each of some words is a month. */
export const monthsOf = (words: readonly string[]): readonly MonthOf[] =>
	BY_LANGUAGE.filter((of) => words.every((word) => of(word) !== undefined));
/** Readers of weekdays in one language each. */
export const WEEKDAYS_OF: readonly ((label: string) => number | undefined)[] = WEEKDAYS.map(
	(names) => (label) => names.get(plain(label)),
);
