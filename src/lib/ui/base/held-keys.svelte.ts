import { navigating } from '$app/state';

/**
 * Keys that mean what will be shown: pressed while the page is on its way to another order, other filters or another item, they are
 * kept and done once that is there. Called while a component is made.
 * @param handle does what a key says
 * @param isMeant whether a key is one of those
 */
export function heldWhileNavigating(
	handle: (event: KeyboardEvent) => void,
	isMeant: (event: KeyboardEvent) => boolean,
): (event: KeyboardEvent) => void {
	let held: KeyboardEvent[] = [];
	$effect(() => {
		if (navigating.to !== null) return;
		const due = held;
		held = [];
		for (const event of due) handle(event);
	});
	return (event) => {
		if (navigating.to === null || !isMeant(event)) return handle(event);
		event.preventDefault();
		held.push(event);
	};
}
