<script lang="ts">
	import { Button } from 'flowbite-svelte';
	import { beforeNavigate, goto } from '$app/navigation';
	import { CALENDAR_SEASON_LENGTH, FREQUENCIES, type Frequency, periodWord } from '$core/series/frequency';
	import { describePeriod, formatPeriod, PERIOD_EXAMPLE } from '$core/series/period';
	import { writtenDecimals } from '$core/working/decimals';
	import type { DecimalMark } from '../reading/figures';
	import type { Choices, ColumnRole, Reading } from '../reading/read';
	import { type Delimiter, DELIMITER_NAME, DELIMITERS } from '../reading/table';
	import { arithmetic } from '../workers/arithmetic';
	import { Latest } from '../workers/latest';
	import { seriesOption } from '../charts/series';
	import type { Palette } from '../charts/palette';
	import Chart from '../charts/Chart.svelte';
	import { call, CallError } from './call';
	import { figure } from './format';
	import { theme } from './theme.svelte';

	const SHOWN_ROWS = 60;
	const LARGEST_FILE = 8_000_000;
	const KEPT = 'ventrel-bring-in';
	const EXAMPLE = 'Paste here, or drop a file.\n\n2026-01\t412\n2026-02\t398\n2026-03\t440';

	let text = $state('');
	let fileName = $state<string | undefined>();
	let choices = $state<Choices>({});
	let code = $state('');
	let name = $state('');
	let unit = $state('');
	let nameTyped = $state(false);
	let reading = $state.raw<Reading | null>(null);
	let dragging = $state(false);
	let sending = $state(false);
	let refusal = $state<{ message: string; path?: string | undefined } | null>(null);

	const readings = new Latest<{ text: string; choices: Choices }, Reading>(
		(question) => arithmetic().readText(question.text, question.choices),
		(answer) => {
			reading = answer;
			if (!nameTyped) name = answer.heading;
		},
		(error) => (refusal = { message: error instanceof Error ? error.message : String(error) }),
	);

	$effect(() => {
		readings.put({ text, choices: $state.snapshot(choices) });
	});

	// What was pasted outlives a reload and a lost server.
	$effect(() => {
		const kept = sessionStorage.getItem(KEPT);
		if (!kept || text) return;
		({ text, code, name, unit, choices, nameTyped } = JSON.parse(kept) as {
			text: string;
			code: string;
			name: string;
			unit: string;
			choices: Choices;
			nameTyped: boolean;
		});
	});
	function keep() {
		try {
			if (text) sessionStorage.setItem(KEPT, JSON.stringify({ text, code, name, unit, choices, nameTyped }));
		} catch {
			// Larger than the browser keeps: it stays in the box for as long as the page is open.
		}
	}
	beforeNavigate(keep);

	const present = $derived(reading?.values.filter((value) => value !== null) ?? []);
	const frequency = $derived<Frequency>(reading?.frequency ?? 'month');
	const decimals = $derived(writtenDecimals(reading?.values ?? []));
	const usable = $derived(reading !== null && reading.problem === null);
	const missing = $derived([!code.trim() && 'a code', !name.trim() && 'a name'].filter(Boolean));

	const PAINT: Record<ColumnRole, { name: string; classes: string }> = {
		period: { name: 'period', classes: 'border-t-2 border-t-[var(--candidate-1)] bg-wash' },
		figure: { name: 'figures', classes: 'border-t-2 border-t-[var(--candidate-3)]' },
		ignored: { name: 'ignored', classes: 'border-t-2 border-t-rule text-ink-2 line-through' },
	};

	function takeText(next: string, from: string | undefined) {
		text = next;
		fileName = from;
		// Another table is read afresh; what was decided for the last one is no longer right.
		choices = {};
		refusal = null;
	}

	async function takeFile(file: File | undefined) {
		if (!file) return;
		if (file.size > LARGEST_FILE) {
			refusal = {
				message: `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; the table of one item has at most ${LARGEST_FILE / 1e6} MB.`,
			};
			return;
		}
		takeText(await file.text(), file.name);
		if (!code) code = file.name.replace(/\.[^.]*$/, '').slice(0, 80);
	}

	function drop(event: DragEvent) {
		event.preventDefault();
		dragging = false;
		const file = event.dataTransfer?.files[0];
		if (file) void takeFile(file);
		else takeText(event.dataTransfer?.getData('text/plain') ?? '', undefined);
	}

	async function bringIn() {
		sending = true;
		refusal = null;
		try {
			await call('POST', '/api/v1/items', {
				text,
				code: code.trim(),
				name: name.trim(),
				unit: unit.trim(),
				choices: $state.snapshot(choices),
				...(fileName && { fileName }),
			});
			sessionStorage.removeItem(KEPT);
			const address = `/items/${encodeURIComponent(code.trim())}`;
			text = '';
			await goto(address);
		} catch (error) {
			const message = error instanceof Error ? error.message : String(error);
			refusal = { message, path: error instanceof CallError ? error.body?.issues?.[0]?.path : undefined };
			keep();
		}
		sending = false;
	}

	const option = $derived.by(() => {
		const figures = { frequency, first: reading?.first ?? 1, values: usable ? reading!.values : [] };
		return (palette: Palette) => seriesOption(figures, palette);
	});
</script>

<div class="flex h-full flex-col px-4">
	<div class="flex items-baseline gap-4 pt-4 pb-2">
		<h1 class="text-lg font-semibold">Bring in</h1>
		<span class="text-ink-2"
			>One item: a column of figures, or a period and a figure a line. Nothing is stored before you press
			“Bring in”.</span
		>
	</div>

	<div class="grid min-h-0 flex-1 grid-cols-[minmax(0,5fr)_minmax(0,4fr)_minmax(0,6fr)] gap-5 pb-4">
		<section class="flex min-h-0 flex-col" aria-labelledby="paste-title">
			<div class="flex items-baseline justify-between pb-1">
				<h2 id="paste-title" class="font-semibold">The table</h2>
				<label class="quiet cursor-pointer focus-within:outline-2 focus-within:outline-accent">
					choose a file
					<input
						type="file"
						accept=".csv,.tsv,.txt,text/*"
						class="sr-only"
						onchange={(event) => void takeFile(event.currentTarget.files?.[0])}
					/>
				</label>
			</div>
			<textarea
				bind:value={text}
				aria-label="The table, pasted"
				spellcheck="false"
				placeholder={EXAMPLE}
				class="figures min-h-0 flex-1 resize-none rounded-md border bg-panel p-2 text-left text-[13px] whitespace-pre placeholder:text-ink-2 {dragging
					? 'border-accent'
					: 'border-edge'}"
				ondragover={(event) => {
					event.preventDefault();
					dragging = true;
				}}
				ondragleave={() => (dragging = false)}
				ondrop={drop}
				onpaste={(event) => {
					// Pasted over everything, it is another table; pasted into it, a part of this one.
					const all = event.currentTarget.selectionEnd - event.currentTarget.selectionStart === text.length;
					if (!all) return;
					event.preventDefault();
					takeText(event.clipboardData?.getData('text/plain') ?? '', undefined);
				}}></textarea>
		</section>

		<section class="flex min-h-0 flex-col" aria-labelledby="read-title">
			<h2 id="read-title" class="pb-1 font-semibold">As it was read</h2>
			{#if !reading || reading.rows.length === 0}
				<p class="border-t border-rule pt-2 text-ink-2" data-reading-problem>
					{reading?.problem ?? 'Reading…'}
				</p>
			{:else}
				<div class="grid grid-cols-2 gap-x-3 gap-y-1.5 border-t border-rule py-2 text-[13px]">
					<label class="text-ink-2">
						cut at each
						<select
							class="block h-7 w-full rounded-md border border-edge bg-panel py-0 text-[13px] text-ink"
							value={reading.delimiter}
							onchange={(event) =>
								(choices = { ...choices, delimiter: event.currentTarget.value as Delimiter })}
						>
							{#each DELIMITERS as delimiter (delimiter)}<option value={delimiter}
									>{DELIMITER_NAME[delimiter]}</option
								>{/each}
						</select>
					</label>
					<label class="text-ink-2">
						decimal mark
						<select
							class="block h-7 w-full rounded-md border border-edge bg-panel py-0 text-[13px] text-ink"
							value={reading.decimal}
							onchange={(event) =>
								(choices = { ...choices, decimal: event.currentTarget.value as DecimalMark })}
						>
							<option value=".">point</option>
							<option value=",">comma</option>
						</select>
					</label>
					<label class="flex items-center gap-2 text-ink-2">
						<input
							type="checkbox"
							class="rounded-sm border-edge text-accent"
							checked={reading.header}
							onchange={(event) => (choices = { ...choices, header: event.currentTarget.checked })}
						/>
						row 1 is a heading
					</label>
					{#if reading.roles.length > 1}
						<label class="flex items-center gap-2 text-ink-2">
							<input
								type="checkbox"
								class="rounded-sm border-edge text-accent"
								checked={reading.roles.includes('period')}
								onchange={(event) =>
									(choices = { ...choices, periodColumn: event.currentTarget.checked ? 0 : null })}
							/>
							column 1 is the period
						</label>
					{/if}
				</div>
				<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
				<div
					class="min-h-0 flex-1 overflow-auto border border-rule bg-panel"
					tabindex="0"
					role="region"
					aria-label="Rows as they were read"
				>
					<table class="w-full text-[13px]">
						<thead>
							<tr>
								<th class="sticky top-0 w-10 bg-panel"><span class="sr-only">row</span></th>
								{#each reading.roles as role, i (i)}
									<th
										class="sticky top-0 bg-panel px-2 text-right text-[12px] font-normal text-ink-2"
										data-role={role}>{PAINT[role].name}</th
									>
								{/each}
							</tr>
						</thead>
						<tbody>
							{#each reading.rows.slice(0, SHOWN_ROWS) as row, r (r)}
								<tr class="border-b border-rule">
									<td class="figures px-2 text-[12px] text-ink-2">{r + 1}</td>
									{#each reading.roles as role, c (c)}
										<td
											class="figures max-w-40 truncate px-2 {r === 0
												? PAINT[role].classes
												: role === 'period'
													? 'bg-wash'
													: ''} {r === 0 && reading.header ? 'font-sans text-ink-2 italic' : ''}"
										>
											{row[c] ?? ''}
										</td>
									{/each}
								</tr>
							{/each}
						</tbody>
					</table>
					{#if reading.rows.length > SHOWN_ROWS}
						<p class="px-2 py-1 text-[12px] text-ink-2">and {reading.rows.length - SHOWN_ROWS} rows more</p>
					{/if}
				</div>
				{#if reading.problem}
					<p class="mt-2 border-l-[3px] border-bad pl-2 text-bad" role="alert" data-reading-problem>
						{reading.problem}
					</p>
				{/if}
				{#each reading.doubts as doubt (doubt.code)}
					<p class="mt-2 border-l-[3px] border-warn pl-2 text-[13px]" data-doubt={doubt.code}>{doubt.text}</p>
				{/each}
			{/if}
		</section>

		<section class="flex min-h-0 flex-col" aria-labelledby="item-title">
			<h2 id="item-title" class="pb-1 font-semibold">The item it becomes</h2>
			<form
				class="grid grid-cols-[1fr_2fr_1fr] gap-3 border-t border-rule pt-2"
				onsubmit={(event) => {
					event.preventDefault();
					void bringIn();
				}}
				id="bring-in"
			>
				<label class="text-[13px] text-ink-2">
					code
					<input
						bind:value={code}
						maxlength="80"
						placeholder="70-214"
						aria-invalid={refusal?.path === 'code'}
						class="block h-8 w-full rounded-md border border-edge bg-panel px-2 py-0 text-ink aria-invalid:border-bad"
					/>
				</label>
				<label class="text-[13px] text-ink-2">
					name
					<input
						bind:value={name}
						maxlength="200"
						placeholder="Rear rack, alloy"
						oninput={() => (nameTyped = true)}
						class="block h-8 w-full rounded-md border border-edge bg-panel px-2 py-0 text-ink"
					/>
				</label>
				<label class="text-[13px] text-ink-2">
					unit
					<input
						bind:value={unit}
						maxlength="40"
						placeholder="pieces"
						class="block h-8 w-full rounded-md border border-edge bg-panel px-2 py-0 text-ink"
					/>
				</label>
				<label class="text-[13px] text-ink-2">
					one figure a
					<select
						class="block h-8 w-full rounded-md border border-edge bg-panel py-0 text-ink"
						value={frequency}
						onchange={(event) => {
							const next = event.currentTarget.value as Frequency;
							choices = { ...choices, frequency: next };
						}}
					>
						{#each reading?.possible ?? FREQUENCIES as each (each)}
							<option value={each}>{each === 'step' ? 'numbered period' : each}</option>
						{/each}
					</select>
				</label>
				<label class="text-[13px] text-ink-2">
					first period
					{#if reading?.possible}
						<input
							disabled
							value={usable ? describePeriod(frequency, reading.first) : ''}
							class="block h-8 w-full rounded-md border border-rule bg-wash px-2 py-0 text-ink"
						/>
					{:else}
						<input
							value={choices.first ?? ''}
							placeholder={PERIOD_EXAMPLE[frequency]}
							oninput={(event) => (choices = { ...choices, first: event.currentTarget.value, frequency })}
							class="block h-8 w-full rounded-md border border-edge bg-panel px-2 py-0 text-ink"
						/>
					{/if}
				</label>
				<p class="self-end pb-1.5 text-[13px] text-ink-2">
					{CALENDAR_SEASON_LENGTH[frequency] > 1
						? `season of ${CALENDAR_SEASON_LENGTH[frequency]}`
						: 'no season'}
				</p>
			</form>

			<div class="mt-3 flex min-h-0 flex-1 flex-col border-t border-rule pt-2">
				{#if usable}
					<p class="text-[13px]" data-reading-result>
						<span class="font-semibold"
							>Demand{unit.trim() ? `, ${unit.trim()}` : ''} a {periodWord(frequency, 1)}:</span
						>
						{present.length}
						{present.length === 1 ? 'figure' : 'figures'} in {reading!.values.length}
						{periodWord(frequency, reading!.values.length)}, {describePeriod(frequency, reading!.first)} to {describePeriod(
							frequency,
							reading!.first + reading!.values.length - 1,
						)}; from {figure(Math.min(...present), decimals)} to {figure(Math.max(...present), decimals)}.
					</p>
					<div class="min-h-0 flex-1">
						<Chart {option} theme={theme.name} label="The series as it was read" />
					</div>
				{:else}
					<p class="text-[13px] text-ink-2">The series is drawn here as soon as the table can be read.</p>
				{/if}
			</div>

			{#if refusal}
				<p class="mt-2 border-l-[3px] border-bad pl-2 text-bad" role="alert" data-refusal>
					{refusal.message}
				</p>
			{/if}
			<div class="mt-3 flex items-center gap-4">
				<Button type="submit" form="bring-in" disabled={!usable || missing.length > 0 || sending} class="h-9">
					{sending ? 'Bringing in…' : 'Bring in'}
				</Button>
				<span class="text-[13px] text-ink-2">
					{#if !usable}waiting for a table that can be read{:else if missing.length > 0}{missing.join(
							' and ',
						)} is still missing{:else}as {code.trim()}, kept with the raw text; first period {formatPeriod(
							frequency,
							reading!.first,
						)}{/if}
				</span>
			</div>
		</section>
	</div>
</div>
