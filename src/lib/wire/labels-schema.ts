/** Labels as they are checked. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { keySchema, pairsSchema, textSchema } from '$core/schemas';
import type { Labels, Wanted } from './labels';

const of = keySchema('what a label is of', BOUNDS.label);

const labelsSchema = (least: 0 | 1) =>
	pairsSchema(of, textSchema('a label', least, BOUNDS.labelValue), 'labels', BOUNDS.labels);

/** An item's labels, as they travel: pairs of what a label is of and the label, no two of the same kind. */
export const LabelsSchema = labelsSchema(1) satisfies v.GenericSchema<unknown, Labels>;

/** Labels that items are wanted to have; a blank one asks for those without. */
export const WantedSchema = labelsSchema(0) satisfies v.GenericSchema<unknown, Wanted>;
