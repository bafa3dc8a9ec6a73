import { VIEWS } from './item/view-names';

/** What the keys do, for the page that lists them. */
export const KEYS: readonly { keys: string[]; does: string }[] = [
	{ keys: ['/'], does: 'find an item by code, name or label' },
	{ keys: ['?'], does: 'show these keys' },
	{ keys: ['↑', '↓', 'Enter'], does: 'walk the items or the line-up, open or choose' },
	{ keys: ['Space'], does: 'in the list: tick the item; with Shift and the arrows a range' },
	{ keys: ['Ctrl', 'a'], does: 'in the list: tick all that fit; Esc ticks none' },
	{ keys: ['b'], does: 'best constants for all candidates' },
	{ keys: ['[', ']'], does: 'the item before and after, where items are worked through' },
	{ keys: ['c'], does: 'carry the adopted forecast on, and go on to the next item' },
	{ keys: ['a'], does: 'adopt what is chosen, as Ahead shows it, and go on' },
	{ keys: ['p'], does: 'put the item aside until its next figure, and go on' },
	{ keys: ['z'], does: 'undo in the line-up' },
	{ keys: ['Shift', 'z'], does: 'redo' },
	{
		keys: ['1', '…', String(VIEWS.length)],
		does: `bench: ${VIEWS.map(({ name }) => name.toLowerCase()).join(', ')}`,
	},
	{ keys: ['PgUp', 'PgDn'], does: 'on the cut of the strip: hold a cycle more or less back' },
	{ keys: ['x'], does: 'on the strip: leave the period at the reading line out, or put it back' },
	{ keys: ['←', '→'], does: 'move a dial or the reading line, with Shift by ten' },
	{ keys: ['g'], does: 'in the working: go to a period' },
	{ keys: ['0', '…', '9'], does: 'on a dial: type its value' },
];
