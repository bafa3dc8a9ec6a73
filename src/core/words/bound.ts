import type { Constant } from '../contract/candidate';

/** What it means that a constant lies on the end of what it may be, or is usually searched in; null where it does not. */
export function boundWords({ bounds, searched, ends }: Constant, value: number): string | null {
	if (value === bounds[0] || (searched[0] !== bounds[0] && value === searched[0])) return ends[0];
	if (value === bounds[1] || (searched[1] !== bounds[1] && value === searched[1])) return ends[1];
	return null;
}
