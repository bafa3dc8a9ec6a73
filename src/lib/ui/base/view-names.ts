/** Views of the bench, in the order of their keys. */
export const VIEWS = [
	{ id: 'demand', name: 'Demand' },
	{ id: 'season', name: 'Season' },
	{ id: 'constants', name: 'Constants' },
	{ id: 'working', name: 'Working' },
	{ id: 'trial', name: 'Trial' },
	{ id: 'signal', name: 'Signal' },
	{ id: 'ahead', name: 'Ahead' },
	{ id: 'record', name: 'Record' },
] as const;

export type ViewName = (typeof VIEWS)[number]['id'];
