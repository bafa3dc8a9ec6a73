import { goto } from '$app/navigation';

/**
 * What a page asks for stands in its address, so that it can be kept, sent and gone back to. What is changed is laid over what was
 * asked for last, be it there or on its way: nothing that is pressed is lost to an answer that takes its time.
 * @param there what the page shows
 * @param address where that stands which is asked for
 */
export function asking<Asked extends object>(
	there: () => Asked,
	address: (asked: Asked) => string,
): (change: Partial<Asked>) => void {
	let onItsWay: Asked | null = null;
	return (change) => {
		const own = { ...(onItsWay ?? there()), ...change };
		onItsWay = own;
		void goto(address(own), { replaceState: true, keepFocus: true, noScroll: true }).finally(() => {
			if (onItsWay === own) onItsWay = null;
		});
	};
}
