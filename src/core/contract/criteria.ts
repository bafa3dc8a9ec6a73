/** What a search can minimise; each is the measure of the same name. */
export const CRITERIA = ['mse', 'mad', 'mape', 'smape', 'wape'] as const;
export type Criterion = (typeof CRITERIA)[number];
