import { VIEWS } from './view-names';

/** Whether letters pressed here belong to what is typed, and are no commands; a dial has no letters. */
export const takesLetters = (target: EventTarget | null): boolean =>
	(target as Element | null)?.closest('input:not([type=range]), textarea, select, dialog') != null;

/** What the keys do, for the page that lists them. */
export const KEYS: readonly { keys: string[]; does: string }[] = [
	{ keys: ['/'], does: 'find an item by code, name or label' },
	{ keys: ['?'], does: 'show terms and keys' },
	{ keys: ['↑', '↓', 'Enter'], does: 'walk the items or the line-up, open or choose' },
	{ keys: ['Space'], does: 'in the list: select the item; with Shift and the arrows a range' },
	{ keys: ['Ctrl', 'a'], does: 'in the list: select all that fit; Esc selects none' },
	{ keys: ['b'], does: 'best constants for all candidates' },
	{ keys: ['[', ']'], does: 'the item before and after, where a list is gone through' },
	{ keys: ['c'], does: 'update the adopted forecast, and go on to the next item' },
	{ keys: ['a'], does: 'adopt what is chosen, as Ahead shows it, and go on' },
	{ keys: ['p'], does: 'hide the item until its next actual, and go on' },
	{ keys: ['z'], does: 'undo in the line-up' },
	{ keys: ['Shift', 'z'], does: 'redo' },
	{
		keys: ['1', '…', String(VIEWS.length)],
		does: `open ${VIEWS.map(({ name }) => name.toLowerCase()).join(', ')}`,
	},
	{ keys: ['PgUp', 'PgDn'], does: 'on the cut of the strip: a cycle more or less in the holdout' },
	{ keys: ['x'], does: 'on the strip: leave the period at the reading line out, or put it back' },
	{ keys: ['←', '→'], does: 'move a dial or the reading line, with Shift by ten' },
	{ keys: ['g'], does: 'in the working: go to a period' },
	{ keys: ['0', '…', '9'], does: 'on a dial: type its value' },
];
