<script lang="ts">
	import type { CandidateInput, Method, StartInput, StartRule } from '$core/methods/method';
	import { tunedSettings } from '$core/methods/registry';
	import { defaultStartCycles, defaultStartSpan, START_NAMES } from '$core/methods/smoothing/starts';
	import { seasonName } from '$core/seasons/season-name';
	import { figure, signed } from './format';
	import { type ItemState, withTunedChange } from './item-state.svelte';

	interface Props {
		desk: ItemState;
		candidate: CandidateInput;
		method: Method;
	}

	let { desk, candidate, method }: Props = $props();

	/** Where the start stands: in the inner method's settings, or the candidate's own. */
	const tuned = $derived(tunedSettings(candidate));
	const rule = $derived(tuned.start?.rule ?? method.starts[0]!);
	const start = $derived(desk.resultFor(candidate.id)?.start ?? null);

	const parts = $derived(method.startParts?.(tuned) ?? []);
	const length = $derived(desk.series.seasonLength);
	/** Usual first periods of a line, or cycles that are taken apart. */
	const usualSpan = (next: StartRule) =>
		(next === 'decomposed' ? defaultStartCycles : defaultStartSpan)(desk.series.values.length, length);
	const counted = (next: StartRule) => next === 'mean' || next === 'line' || next === 'decomposed';

	const begin = (start: StartInput) => desk.set(candidate.id, withTunedChange(candidate, { start }));

	function choose(next: StartRule) {
		const level = start?.level ?? desk.series.values.find((value) => value !== null) ?? 0;
		const given = {
			rule: next,
			at: start?.at ?? 0,
			level,
			...(parts.includes('trend') && { trend: start?.trend ?? 0 }),
			...(parts.includes('season') && {
				season: start?.season ?? Array.from({ length }, () => (tuned.season === 'multiplicative' ? 1 : 0)),
			}),
		};
		begin(next === 'given' ? given : counted(next) ? { rule: next, k: usualSpan(next) } : { rule: next });
	}

	function setNumber(key: 'k' | 'at' | 'level' | 'trend', text: string) {
		const value = Number(text);
		const whole = key === 'k' || key === 'at';
		if (text.trim() === '' || !Number.isFinite(value)) return;
		if (whole && (!Number.isInteger(value) || value < (key === 'k' ? 1 : 0))) return;
		begin({ ...tuned.start, rule, [key]: value });
	}

	function setSeason(text: string) {
		const season = text
			.split(/[\s;]+/)
			.filter(Boolean)
			.map(Number);
		const known = season.length === length && season.every(Number.isFinite);
		wrongSeason = known ? null : `${length} figures with blanks between them, season 1 first`;
		if (known) begin({ ...tuned.start, rule, season });
	}
	let wrongSeason: string | null = $state(null);

	const FIELD = 'figures h-6 border-0 border-b border-edge bg-transparent p-0 text-[13px]';
	const seasons = $derived(tuned.start?.season ?? []);
</script>

<span class="flex shrink-0 items-baseline gap-1.5 whitespace-nowrap">
	<label class="flex items-baseline gap-1 text-ink-2">
		starts from
		<select class="choice" value={rule} onchange={(event) => choose(event.currentTarget.value as StartRule)}>
			{#each method.starts as name (name)}<option value={name}>{START_NAMES[name]}</option>{/each}
		</select>
	</label>
	{#if counted(rule)}
		<input
			type="number"
			min="1"
			class="{FIELD} w-12"
			aria-label={rule === 'decomposed' ? 'How many first cycles' : 'How many first periods'}
			title={rule === 'decomposed' ? 'cycles' : 'periods'}
			value={tuned.start?.k ?? usualSpan(rule)}
			onchange={(event) => setNumber('k', event.currentTarget.value)}
		/>
	{/if}
	{#if rule === 'given'}
		<label class="text-ink-2"
			>level
			<input
				type="number"
				step="any"
				class="{FIELD} w-20 text-ink"
				aria-label="Starting forecast"
				value={tuned.start?.level}
				onchange={(event) => setNumber('level', event.currentTarget.value)}
			/></label
		>
		{#if parts.includes('trend')}
			<label class="text-ink-2"
				>trend
				<input
					type="number"
					step="any"
					class="{FIELD} w-16 text-ink"
					aria-label="Starting trend"
					value={tuned.start?.trend}
					onchange={(event) => setNumber('trend', event.currentTarget.value)}
				/></label
			>
		{/if}
		<label class="text-ink-2"
			>after period
			<input
				type="number"
				min="0"
				class="{FIELD} w-10 text-ink"
				aria-label="Period at whose end the start stands"
				value={tuned.start?.at ?? 0}
				onchange={(event) => setNumber('at', event.currentTarget.value)}
			/></label
		>
	{:else if start}
		<span class="figures text-[13px]"
			>{figure(start.level, desk.decimals)}{#if start.trend !== undefined}, {signed(
					start.trend,
					desk.decimals + 1,
				)}{/if}</span
		>
	{/if}
</span>
{#if rule === 'given' && parts.includes('season')}
	<label class="flex w-full items-baseline gap-1 text-ink-2">
		seasons, {seasonName(desk.series.frequency, length, 1)} first
		<input
			class="{FIELD} min-w-40 flex-1 text-left text-ink"
			aria-label="Starting season values"
			value={seasons.map((value) => Number(value.toPrecision(5))).join(' ')}
			aria-invalid={wrongSeason !== null}
			onchange={(event) => setSeason(event.currentTarget.value)}
		/>
		{#if wrongSeason}<span class="text-bad" role="alert">{wrongSeason}</span>{/if}
	</label>
{/if}
