<script lang="ts">
	import ProgressBar from '../kit/ProgressBar.svelte';
	import TextInput from '../kit/TextInput.svelte';
	import Choice from '../kit/Choice.svelte';
	import { may } from '../base/access';
	import Waiting from './Waiting.svelte';
	import Allowed from '../kit/Allowed.svelte';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';
	import { onMount } from 'svelte';
	import { BOUNDS } from '$core/bounds';
	import { beforeNavigate, goto } from '$app/navigation';
	import {
		aPeriod,
		CALENDAR_SEASON_LENGTH,
		FREQUENCIES,
		type Frequency,
		periodWord,
	} from '$core/series/frequency';
	import { describePeriod, PERIOD_EXAMPLE } from '$core/series/period';
	import { scaleWords, usualScale, writtenDecimals } from '$core/numbers/figure';
	import Chart from '../../charts/Chart.svelte';
	import type { Palette } from '../../charts/palette';
	import { seriesOption } from '../../charts/series';
	import { ENCODING_NAME, ENCODINGS } from '../../reading/decode';
	import { DELIMITER_NAME, DELIMITERS } from '../../reading/table';
	import { BringInState } from './bring-in-state.svelte';
	import { comparisonWords } from './compare';
	import { figure } from '../base/format';
	import Afterwards from './Afterwards.svelte';
	import Brought from './Brought.svelte';
	import IncomingItems from './IncomingItems.svelte';
	import PaintedTable from './PaintedTable.svelte';
	import { theme } from '../base/theme.svelte';

	const EXAMPLE =
		'Paste a table here, or drop a file.\n\nIt may lie any way round: a column or a row\nof figures, periods down and items across,\nyears down and months across, blocks,\nwith totals, titles and footnotes.';

	const intake = new BringInState();
	let dragging = $state(false);
	onMount(() => intake.restore());
	beforeNavigate(() => intake.keep());

	const reading = $derived(intake.reading);
	const chosen = $derived(intake.chosen);
	const frequency = $derived<Frequency>(reading?.frequency ?? 'month');
	const one = $derived(intake.incoming.length === 1 ? intake.incoming[0]! : null);
	const present = $derived(chosen?.item.values.filter((value) => value !== null) ?? []);
	const decimals = $derived(writtenDecimals(chosen?.item.values ?? []));
	const scale = $derived(usualScale(chosen?.item.values ?? []));
	const measured = $derived([chosen?.unit, scaleWords(scale)].filter(Boolean).join(', '));
	const decided = $derived(Object.values(intake.choices).some((value) => value !== undefined));

	function drop(event: DragEvent) {
		event.preventDefault();
		dragging = false;
		const file = event.dataTransfer?.files[0];
		if (file) void intake.takeFile(file);
		else intake.takeText(event.dataTransfer?.getData('text/plain') ?? '');
	}

	async function bringIn() {
		const code = await intake.bringIn();
		if (code) await goto(`/items/${encodeURIComponent(code)}`);
	}

	const option = $derived.by(() => {
		const { first, values } = chosen?.item ?? { first: 1, values: [] };
		const stored = chosen?.stored?.frequency === frequency ? chosen.stored : null;
		const { power } = scale;
		return (palette: Palette) => seriesOption({ frequency, first, values, stored, power }, palette);
	});
	/** What became of the table before, until there is another one. */
	const brought = $derived(intake.brought && intake.brought.length > 1 && !reading ? intake.brought : null);
	const STAGE = { sending: 'sending', reading: 'reading', storing: 'storing' };
</script>

<div class="flex min-h-0 flex-1 flex-col px-4">
	<Waiting take={(file) => void intake.takeFile(file)} brought={intake.brought !== null} />
	<div class="flex items-baseline gap-4 pt-4 pb-2">
		<h1 class="text-lg font-semibold">Bring in</h1>
		<span class="text-ink-2"
			>One item or hundreds, new ones or more actuals. Nothing is stored before you press “Bring in”.</span
		>
	</div>

	<div
		class="flex min-h-0 flex-1 flex-col gap-5 pb-4 wide:grid {brought
			? 'wide:grid-cols-[minmax(0,3fr)_minmax(0,11fr)]'
			: 'wide:grid-cols-[minmax(0,3fr)_minmax(0,5fr)_minmax(0,6fr)]'}"
	>
		<section class="flex min-h-0 flex-col" aria-labelledby="paste-title">
			<div class="flex items-baseline justify-between pb-1">
				<h2 id="paste-title" class="font-semibold">The table</h2>
				<label class="quiet cursor-pointer focus-within:outline-2 focus-within:outline-accent">
					choose a file
					<input
						type="file"
						accept=".csv,.tsv,.txt,.json,.xlsx,text/*"
						class="sr-only"
						onchange={(event) => void intake.takeFile(event.currentTarget.files?.[0])}
					/>
				</label>
			</div>
			{#if intake.file}
				<div
					class="flex min-h-0 flex-1 flex-col items-start gap-2 rounded-md border p-3 text-[13px] {dragging
						? 'border-accent'
						: 'border-edge'} bg-panel"
					role="group"
					aria-label="The file"
					ondragover={(event) => {
						event.preventDefault();
						dragging = true;
					}}
					ondragleave={() => (dragging = false)}
					ondrop={drop}
				>
					<p class="font-semibold break-all" data-file>{intake.file.name}</p>
					<p class="text-ink-2">
						{(intake.file.size / 1e6).toFixed(intake.file.size < 1e6 ? 3 : 1)} MB; saved byte for byte once it is
						brought in.
					</p>
					{#if intake.isLarge}
						<p class="text-ink-2">
							Larger than can be shown at once: its beginning is shown and decides how all of it is read, row
							by row.
						</p>
					{/if}
					<Button onclick={() => intake.takeText('')}>take the file off and paste instead</Button>
				</div>
			{:else}
				<textarea
					value={intake.text}
					aria-label="The table, pasted"
					spellcheck="false"
					placeholder={EXAMPLE}
					class="figures min-h-56 flex-1 resize-none wide:min-h-0 rounded-md border bg-panel p-2 text-left text-[13px] whitespace-pre placeholder:font-sans placeholder:text-ink-2 {dragging
						? 'border-accent'
						: 'border-edge'}"
					oninput={(event) => intake.type(event.currentTarget.value)}
					ondragover={(event) => {
						event.preventDefault();
						dragging = true;
					}}
					ondragleave={() => (dragging = false)}
					ondrop={drop}
					onpaste={(event) => {
						// Pasted over everything, it is another table; pasted into it, a part of this one.
						const all =
							event.currentTarget.selectionEnd - event.currentTarget.selectionStart === intake.text.length;
						if (!all) return;
						event.preventDefault();
						intake.takeText(event.clipboardData?.getData('text/plain') ?? '');
					}}></textarea>
			{/if}
		</section>

		{#if brought}
			<Brought {brought} />
		{:else}
			<section class="flex min-h-0 flex-col" aria-labelledby="read-title">
				<div class="flex items-baseline gap-3 pb-1">
					<h2 id="read-title" class="font-semibold">As it was read</h2>
					{#if reading && reading.rows.length > 0}
						<span class="truncate text-[13px] text-ink-2" data-layout>{reading.layout}</span>
					{/if}
					{#if decided}
						<Button class="ml-auto shrink-0 text-[13px]" onclick={() => intake.decideNothing()}
							>read it again</Button
						>
					{/if}
				</div>
				{#if !reading || reading.rows.length === 0}
					<p class="border-t border-rule pt-2 text-ink-2" data-reading-problem>
						{reading?.problem ?? 'Reading…'}
					</p>
				{:else}
					<div class="grid grid-cols-3 gap-x-3 gap-y-1.5 border-t border-rule py-2 text-[13px]">
						{#if reading.sheets.length > 0}
							<label class="text-ink-2">
								sheet
								<Choice
									look="field"
									value={reading.sheet}
									of={reading.sheets}
									names={(sheet) => sheet}
									take={(sheet) => intake.decide({ sheet })}
								/>
							</label>
						{/if}
						{#if reading.delimiter !== null}
							<label class="text-ink-2">
								separator
								<Choice
									look="field"
									value={reading.delimiter}
									of={DELIMITERS}
									names={DELIMITER_NAME}
									take={(delimiter) => intake.decide({ delimiter })}
								/>
							</label>
						{/if}
						<label class="text-ink-2">
							decimal mark
							<Choice
								look="field"
								value={reading.decimal}
								names={{ '.': 'point', ',': 'comma' }}
								take={(decimal) => intake.decide({ decimal })}
							/>
						</label>
						{#if reading.encoding !== null && intake.file}
							<label class="text-ink-2">
								encoding
								<Choice
									look="field"
									value={reading.encoding}
									of={ENCODINGS}
									names={ENCODING_NAME}
									take={(encoding) => intake.decide({ encoding })}
								/>
							</label>
						{/if}
						{#if reading.possible === null}
							<label class="text-ink-2">
								figures follow
								<Choice
									look="field"
									value={reading.order}
									names={{ down: 'down the columns', across: 'along the rows' }}
									take={(order) => intake.decide({ order })}
								/>
							</label>
						{/if}
					</div>
					<PaintedTable {reading} decide={(choices) => intake.decide(choices)} />
					<div class="max-h-[44%] shrink-0 overflow-y-auto">
						{#if reading.problem}
							<Notice class="mt-2" data-reading-problem>{reading.problem}</Notice>
						{/if}
						{#if intake.said.length > 0}
							<p class="pt-2 text-[13px] text-ink-2" data-known>
								{#each intake.said as { code, text, options } (code)}
									<span class="mr-1" data-known={code}>{text}</span>
									{#each options as { label, choices } (label)}
										<Button look="offer" class="mr-2" onclick={() => intake.decide(choices)}>{label}</Button>
									{/each}
								{/each}
								<Button onclick={() => intake.forgetEvidence()}>read it without that</Button>
							</p>
						{/if}
						{#each reading.doubts as doubt (doubt.code)}
							<Notice tone="warn" class="mt-2" data-doubt={doubt.code}>
								{doubt.text}
								{#each doubt.options as { label, choices } (label)}
									<Button class="ml-2" onclick={() => intake.decide(choices)}>{label}</Button>
								{/each}
							</Notice>
						{/each}
					</div>
				{/if}
			</section>

			<section class="flex min-h-0 flex-col" aria-labelledby="item-title">
				<h2 id="item-title" class="pb-1 font-semibold">
					{intake.incoming.length > 1 ? 'The items in it' : 'The item it becomes'}
				</h2>
				<form
					class="grid grid-cols-[1fr_2fr_1fr] gap-3 border-t border-rule pt-2 pb-2"
					onsubmit={(event) => {
						event.preventDefault();
						void (intake.isLarge ? intake.stream(false) : bringIn());
					}}
					id="bring-in"
				>
					{#if intake.incoming.length <= 1 && !intake.isLarge}
						<label class="text-[13px] text-ink-2">
							code
							<TextInput
								value={intake.typedCode}
								maxlength={BOUNDS.code}
								placeholder={intake.proposed || '70-214'}
								title="Left empty, it is {intake.proposed || 'made from the name'}"
								aria-invalid={intake.refusal?.path === 'code'}
								oninput={(event) => intake.pickSingle({ code: event.currentTarget.value })}
							/>
						</label>
						<label class="text-[13px] text-ink-2">
							name
							<TextInput
								value={intake.single.name ?? one?.named ?? ''}
								maxlength={BOUNDS.name}
								placeholder="Rear rack, alloy"
								oninput={(event) => intake.pickSingle({ name: event.currentTarget.value })}
							/>
						</label>
						<label class="text-[13px] text-ink-2">
							unit
							<TextInput
								value={intake.single.unit ?? one?.unit ?? ''}
								maxlength={BOUNDS.unit}
								placeholder="pieces"
								oninput={(event) => intake.pickSingle({ unit: event.currentTarget.value })}
							/>
						</label>
					{/if}
					<label class="text-[13px] text-ink-2">
						frequency
						<Choice
							look="field"
							value={frequency}
							of={reading?.possible ?? FREQUENCIES}
							names={(each) => (each === 'step' ? 'numbered period' : each)}
							take={(chosen) => intake.decide({ frequency: chosen })}
						/>
					</label>
					<label class="text-[13px] text-ink-2">
						first period
						{#if reading?.asksFirst}
							<TextInput
								value={intake.choices.first ?? ''}
								placeholder={PERIOD_EXAMPLE[frequency]}
								oninput={(event) =>
									intake.decide({ first: event.currentTarget.value || undefined, frequency })}
							/>
						{:else}
							<TextInput disabled value={chosen ? describePeriod(frequency, chosen.item.first) : ''} />
						{/if}
					</label>
					<p class="self-end pb-1.5 text-[13px] text-ink-2">
						{(reading?.seasonLength ?? CALENDAR_SEASON_LENGTH[frequency]) > 1
							? `season of ${reading?.seasonLength ?? CALENDAR_SEASON_LENGTH[frequency]}`
							: 'no season'}
					</p>
				</form>

				{#if intake.incoming.length > 1 && !intake.isLarge}<IncomingItems {intake} />{/if}

				<div class="mt-1 flex min-h-0 flex-1 flex-col border-t border-rule pt-2">
					{#if intake.streamed}
						{@const { items, created, added, corrected, same, rows, stored } = intake.streamed}
						<p data-streamed>
							<span class="font-semibold">{stored ? 'Brought in' : 'All of it can be read'}:</span>
							{figure(rows, 0)} rows, {figure(items, 0)} items ({figure(created, 0)} new), {figure(added, 0)} figures
							added,
							{figure(corrected, 0)} corrected, {figure(same, 0)} the same.
							{#if !stored}Nothing is stored yet.{/if}
						</p>
						{#if stored}<Afterwards />{/if}
					{:else if chosen && reading}
						{@const { comparison, item, stored } = chosen}
						<p class="text-[13px]" data-reading-result>
							<span class="font-semibold"
								>{chosen.code && intake.incoming.length > 1 ? `${chosen.code}, demand` : 'Demand'}{measured
									? `, ${measured}`
									: ''}
								{aPeriod(frequency)}:</span
							>
							{present.length}
							{present.length === 1 ? 'figure' : 'figures'} in {item.values.length}
							{periodWord(frequency, item.values.length)}, {describePeriod(frequency, item.first)} to {describePeriod(
								frequency,
								item.first + item.values.length - 1,
							)}{present.length > 0
								? `; from ${figure(Math.min(...present), decimals)} to ${figure(Math.max(...present), decimals)}`
								: ''}.
							{#if reading.spelling}<span class="text-ink-2">Periods: {reading.spelling}.</span>{/if}
						</p>
						{#if stored}
							<p class="text-[13px]" data-comparison>
								<span class="font-semibold">{chosen.code} is here already:</span>
								{comparison.problem ?? comparisonWords(comparison, false, frequency)}.
								{#each comparison.corrected.slice(0, 4) as { period, from, to } (period)}
									<span class="mr-2 inline-block border-l-[3px] border-warn pl-1.5"
										>{describePeriod(frequency, period)}: <s class="text-ink-2">{figure(from, decimals)}</s>
										{figure(to, decimals)}</span
									>
								{/each}
								{#if comparison.corrected.length > 4}and {comparison.corrected.length - 4} more{/if}
							</p>
						{/if}
						<div class="min-h-32 flex-1">
							<Chart {option} theme={theme.name} label="The series as it was read" />
						</div>
					{:else}
						<p class="text-[13px] text-ink-2">The series is drawn here as soon as the table can be read.</p>
					{/if}
				</div>

				{#if intake.refusal}
					<Notice class="mt-2" data-refusal>{intake.refusal.message}</Notice>
				{/if}
				{#if intake.progress}
					<div class="mt-3 flex items-center gap-3 text-[13px]" role="status" data-progress>
						<ProgressBar
							done={intake.progress.stage === 'storing' ? 1 : intake.progress.share}
							of={1}
							label="How far the file is"
							class="flex-1"
						/>
						<span class="figures w-72 text-left font-sans">
							{STAGE[intake.progress.stage]}{intake.progress.stage === 'storing'
								? ''
								: ` ${Math.round(intake.progress.share * 100)} %`}{'rows' in intake.progress
								? `, ${figure(intake.progress.rows, 0)} rows, ${figure(intake.progress.items, 0)} items`
								: ''}
						</span>
						<Button onclick={() => intake.stop()}>stop</Button>
					</div>
				{/if}
				<div class="mt-3 flex items-center gap-4">
					<Allowed does="Bringing in"
						><Button
							look="main"
							type="submit"
							form="bring-in"
							disabled={intake.waitingFor !== null || intake.sending}
							class="h-9 shrink-0"
						>
							{intake.sending
								? 'Bringing in…'
								: intake.takenItems.length > 1 && !intake.isLarge
									? `Bring in ${intake.takenItems.length} items`
									: 'Bring in'}
						</Button></Allowed
					>
					{#if intake.isLarge && may('work')}
						<Button
							class="text-[13px]"
							disabled={intake.waitingFor !== null || intake.sending}
							onclick={() => void intake.stream(true)}>try all of it first</Button
						>
					{/if}
					<span class="text-[13px] text-ink-2">
						{#if intake.waitingFor}waiting for {intake.waitingFor}{:else if intake.isLarge}all rows, all or
							nothing{:else if one}as
							{one.code}, saved with the table as it came{:else}all or nothing, saved with the table as it
							came{/if}
					</span>
				</div>
			</section>
		{/if}
	</div>
</div>
