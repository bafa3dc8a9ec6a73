import { describePeriod } from '$core/series/period';
import { reasonWords } from '$core/words/status';
import { labelOf } from '../../wire/labels';
import type { ItemRow } from '../../wire/list';
import { LIST_KEYS, type ListKey, listColumn } from '../../wire/list-columns';
import type { Rows } from '../export/cells';

/** What stands beside the period that it belongs to. */
const WITH_PERIOD: readonly ListKey[] = ['next', 'miss'];
const OTHERS = LIST_KEYS.filter((key) => !WITH_PERIOD.includes(key));

/** The list as a table: every column of figures, whether it is shown or not. */
export function listedRows(items: readonly ItemRow[]): Rows {
	const kinds = [...new Set(items.flatMap(({ labels }) => labels.map(([of]) => of)))].sort();
	return [
		[
			'code',
			'name',
			'unit',
			...kinds,
			'adopted',
			'reason to check',
			'next period',
			'final forecast',
			'newest period',
			'actual',
			'its final forecast',
			...OTHERS.map((key) => listColumn(key).name),
		],
		...items.map((row) => {
			const { code, name, unit, labels, shown, status, frequency } = row;
			const reasons = shown ? (status?.reasons ?? []) : [];
			return [
				code,
				name,
				unit,
				...kinds.map((of) => labelOf(labels, of) ?? ''),
				shown?.adopted?.label ?? '',
				reasons.map((reason) => reasonWords(reason, frequency, shown!.scale, unit)).join('; '),
				shown?.adopted ? describePeriod(frequency, shown.adopted.nextPeriod) : '',
				shown?.adopted?.next ?? null,
				status?.newest ? describePeriod(frequency, status.newest.period) : '',
				status?.newest?.actual ?? null,
				status?.newest?.final ?? null,
				...OTHERS.map((key) => listColumn(key).of(row)),
			];
		}),
	];
}
