import { LIST_KEYS, type ListKey, listColumn } from '../../wire/list-columns';

const KEPT = 'ventrel-list-columns';

/** Which columns of figures the list shows; kept in the browser. */
class ShownColumns {
	keys: readonly ListKey[] = $state.raw(LIST_KEYS.filter((key) => listColumn(key).usual));

	/** Takes over what was chosen before; those that there are no longer are left out. */
	adoptKept(): void {
		const kept = localStorage.getItem(KEPT)?.split(' ');
		if (kept) this.keys = LIST_KEYS.filter((key) => kept.includes(key));
	}

	set(key: ListKey, shown: boolean): void {
		this.keys = LIST_KEYS.filter((each) => (each === key ? shown : this.keys.includes(each)));
		localStorage.setItem(KEPT, this.keys.join(' '));
	}
}

export const shownColumns = new ShownColumns();
