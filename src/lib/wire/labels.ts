/** What items are labelled with: “Family” is “Brakes”. */

/** An item's labels, as they travel: pairs of what a label is of and the label, no two of the same kind. */
export type Labels = [of: string, label: string][];

/** Labels that items are wanted to have; a blank one asks for those without. */
export type Wanted = Labels;

/** As the database has them, in the order of their kinds. */
export const pairsOf = (kept: Readonly<Record<string, string>>): Labels => inOrder(Object.entries(kept));

const inOrder = (labels: Labels): Labels => labels.toSorted(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));

/** The label of a kind; undefined where there is none. */
export const labelOf = (labels: Wanted, kind: string): string | undefined =>
	labels.find(([each]) => each === kind)?.[1];

/** Labels with one of a kind put in, in place of another one of that kind. */
export const withLabel = (labels: Wanted, kind: string, label: string): Wanted =>
	inOrder([...labels.filter(([each]) => each !== kind), [kind, label]]);

/** “Family: Brakes, Site: Quay”. */
export const labelsInWords = (labels: Wanted): string =>
	labels.map(([kind, label]) => `${kind}: ${label}`).join(', ');
