<script lang="ts">
	import { figure } from '../base/format';
	import Choice from '../kit/Choice.svelte';
	import type { Reading } from '../../reading/reading';
	import type { Choices } from '../../reading/choices';
	import { COLUMN_ROLES, type ColumnRole, ROW_ROLES, type RowRole } from '../../reading/choices';

	let { reading, decide }: { reading: Reading; decide: (choices: Choices) => void } = $props();

	const FIRST = 48;
	const COLUMN_NAME: Record<ColumnRole, string> = {
		item: 'item',
		name: 'name',
		unit: 'unit',
		label: 'label',
		period: 'period',
		cycle: 'cycle',
		season: 'season',
		day: 'day of month',
		status: 'cancelled?',
		quantity: 'quantity',
		figure: 'figures',
		total: 'total',
		ignored: 'left out',
	};
	const ROW_NAME: Record<RowRole, string> = { ...COLUMN_NAME, figures: 'figures' };

	/** Each part's colour; its name stands at the head of its row or column as well. */
	const PAINT: Record<string, string> = {
		item: 'var(--candidate-2)',
		name: 'var(--candidate-2)',
		unit: 'var(--candidate-2)',
		label: 'var(--candidate-5)',
		period: 'var(--candidate-1)',
		cycle: 'var(--candidate-1)',
		season: 'var(--candidate-4)',
		day: 'var(--candidate-4)',
		status: 'var(--ink-2)',
		quantity: 'var(--candidate-5)',
		figure: 'var(--candidate-3)',
		figures: 'var(--candidate-3)',
	};

	const columns = $derived(reading.columns.slice(0, 80));
	const lines = $derived.by(() => {
		const first = reading.rows.slice(0, FIRST).map((cells, r) => ({ r, cells }));
		const skipped = reading.rowCount - FIRST;
		const last = skipped > 0 ? reading.tail.slice(-Math.min(skipped, reading.tail.length)) : [];
		return [...first, ...last.map((cells, i) => ({ r: reading.rowCount - last.length + i, cells }))];
	});
	const hidden = $derived(reading.rowCount - lines.length);

	/** What a cell is: its row's role over the figures, its column's elsewhere. */
	function partOf(r: number, c: number): string {
		const row = reading.rowRoles[r];
		const column = reading.columns[c];
		if (r === reading.heading && row === 'ignored') return 'corner';
		if (row === 'ignored' || row === 'total' || column === 'ignored' || column === 'total') return 'out';
		if (row === 'figures') return column ?? 'out';
		return column === 'figure' ? (row ?? 'out') : 'corner';
	}
	const isBlank = (r: number) =>
		reading.rowRoles[r] === 'ignored' &&
		(lines.find((line) => line.r === r)?.cells ?? []).every((cell) => cell === '');
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled with the keyboard) -->
<div
	class="min-h-0 flex-1 overflow-auto border border-rule bg-panel"
	tabindex="0"
	role="region"
	aria-label="Rows as they were read"
>
	<table class="text-[13px]">
		<thead>
			<tr>
				<th class="sticky top-0 left-0 z-20 bg-panel"><span class="sr-only">row</span></th>
				{#each columns as role, c (c)}
					<th class="sticky top-0 z-10 bg-panel p-0 font-normal" data-role={role}>
						<Choice
							look="bare"
							class="part"
							style="color: {PAINT[role] ?? 'var(--ink-2)'}; border-top-color: {PAINT[role] ?? 'var(--rule)'}"
							label="Column {c + 1} is"
							value={role}
							of={COLUMN_ROLES}
							names={COLUMN_NAME}
							take={(role) => decide({ columns: { [c]: role } })}
						/>
					</th>
				{/each}
			</tr>
		</thead>
		<tbody>
			{#each lines as { r, cells }, i (r)}
				{#if i > 0 && lines[i - 1]!.r !== r - 1}
					<tr
						><td></td><td class="px-2 py-1 text-[12px] text-ink-2" colspan={columns.length}
							>{figure(hidden, 0)} rows more</td
						></tr
					>
				{/if}
				<tr class="border-b border-rule" data-row={reading.rowRoles[r]}>
					<td class="sticky left-0 z-10 bg-panel p-0 whitespace-nowrap">
						<span class="figures inline-block w-9 pr-1 text-[12px] text-ink-2">{r + 1}</span
						>{#if !isBlank(r)}<Choice
								look="bare"
								class="part inline-block"
								style="color: {(reading.rowRoles[r] !== 'figures' && PAINT[reading.rowRoles[r] ?? '']) ||
									'var(--ink-2)'}"
								label="Row {r + 1} is"
								value={reading.rowRoles[r]!}
								of={ROW_ROLES}
								names={ROW_NAME}
								take={(role) => decide({ rows: { [r]: role } })}
							/>{/if}
					</td>
					{#each columns.keys() as c (c)}
						{@const part = partOf(r, c)}
						<td
							class="figures max-w-44 truncate px-2 {part === 'out'
								? 'text-ink-2 line-through decoration-1'
								: ''} {part === 'figure' || part === 'out' ? '' : 'text-left font-sans'} {part === 'corner'
								? 'text-ink-2 italic'
								: ''}"
							style:background={PAINT[part] && part !== 'figure'
								? `color-mix(in srgb, ${PAINT[part]} 11%, transparent)`
								: null}
							title={(cells[c] ?? '').length > 20 ? cells[c] : null}>{cells[c] ?? ''}</td
						>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
	{#if reading.columnCount > columns.length}
		<p class="px-2 py-1 text-[12px] text-ink-2">
			and {figure(reading.columnCount - columns.length, 0)} columns more
		</p>
	{/if}
</div>

<style>
	/* A role is a word that can be pressed. */
	table :global(select.part) {
		height: 1.5rem;
		min-width: 5.4rem;
		width: 100%;
		padding: 0 0.4rem;
		border: 0;
		border-top: 2px solid transparent;
		background: transparent none;
		font-size: 12px;
		text-decoration: underline dotted 1px;
		text-underline-offset: 3px;
	}
	table :global(select.part:hover) {
		text-decoration-style: solid;
	}
	td :global(select.part) {
		width: 5.8rem;
		border-top: 0;
	}
	table :global(.part option) {
		color: var(--ink);
		background: var(--panel);
	}
</style>
