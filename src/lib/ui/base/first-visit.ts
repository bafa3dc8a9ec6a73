/** What can be done on a page, for who sees it for the first time; by the route. */
export const FIRST_VISIT: Readonly<Record<string, string>> = {
	'/items':
		'Each row shows what is adopted and a reason to check it. Press a head to sort; open an item to compare methods.',
	'/groups': 'Items grouped by their labels. “group total” forecasts a whole group like one item.',
	'/bring-in': 'Paste a table or drop a file. You check how it is read before anything is stored.',
	'/sweeps':
		'A sweep does one thing to many items in the background. Select items in the list, then propose, update or compare.',
	'/hand-over': 'The final forecasts of all items, to copy, to save, or to fetch by a program.',
};
