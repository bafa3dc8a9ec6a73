import type { CandidateResult } from '../../src/core/questions/answer';
import { evaluate } from '../../src/core/questions/evaluate';
import { applyLayers } from '../../src/core/series/layers';
import type { Item } from '../../src/lib/wire/items';

type Candidate = { id: string; method: string; [setting: string]: unknown };

/** What a browser sends to adopt a candidate of an item as it sees it: the figures that it shows, and what it has seen. */
export function adoptionOf(
	item: Item,
	candidate: Candidate,
	{ others = [], horizon = 4, ...rest }: { others?: Candidate[]; horizon?: number; reason?: string } = {},
) {
	const { frequency, seasonLength } = item.series;
	const layered = applyLayers(item.series, frequency, seasonLength, item.layers.layers, item.group);
	const [shown] = evaluate({
		series: layered.request,
		gaps: layered.gapRule,
		candidates: [candidate, ...others],
		horizon,
	}).candidates;
	const steps = shown?.ok ? (shown as CandidateResult).ahead : [];
	return {
		candidate,
		others,
		horizon,
		seen: item.seen,
		seenLayers: item.layers.newest,
		seenRecord: item.adopted?.id ?? null,
		shown: steps.map(({ mean, ranges }) => ({ mean, ranges })),
		...rest,
	};
}
