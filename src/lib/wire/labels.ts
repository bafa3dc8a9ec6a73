/** What items are labelled with: “Family” is “Brakes”. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { keySchema, pairsSchema, textSchema } from '$core/schemas';

const of = keySchema('what a label is of', BOUNDS.label);

const labelsSchema = (least: 0 | 1) =>
	pairsSchema(of, textSchema('a label', least, BOUNDS.labelValue), 'labels', BOUNDS.labels);

/** An item's labels, as they travel: pairs of what a label is of and the label, no two of the same kind. */
export const LabelsSchema = labelsSchema(1);
export type Labels = v.InferOutput<typeof LabelsSchema>;

/** Labels that items are wanted to have; a blank one asks for those without. */
export const WantedSchema = labelsSchema(0);
export type Wanted = v.InferOutput<typeof WantedSchema>;

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
