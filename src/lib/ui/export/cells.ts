/** A cell of a table that leaves the program: figures with all their digits. */
export type Cell = string | number | null;

/** A table that leaves the program, row by row. */
export type Rows = readonly (readonly Cell[])[];
