<script lang="ts">
	import Button from '../kit/Button.svelte';
	import { reader } from '../../reader.svelte';
	import type Chart from '../../charts/Chart.svelte';
	import type { Rows } from './cells';
	import { copyRows } from './clipboard';
	import { saveAddress, saveFile } from './download';

	interface Props {
		/** Begins the names of files. */
		name: string;
		/** What it is, for readers who do not see it. */
		of: string;
		rows: () => Rows | Promise<Rows>;
		/** The name of the sheet, where the rows make a workbook too. */
		sheet?: string;
		/** A chart that can be saved as a picture. */
		chart?: Chart | undefined;
	}

	let { name, of, rows, sheet, chart }: Props = $props();

	let copied = $state<'no' | 'yes' | 'refused'>('no');
	const COPY_WORDS = { no: 'copy', yes: 'copied', refused: 'the browser does not let this page copy' };

	const when = (there: boolean, format: string, save: () => unknown): [string, () => unknown][] =>
		there ? [[format, save]] : [];

	// What writes a format is loaded when it is first asked for.
	const formats = $derived<[string, () => unknown][]>([
		['CSV', async () => saveFile(`${name}.csv`, (await import('./csv')).csv(await rows()), 'text/csv')],
		...when(sheet !== undefined, 'XLSX', async () =>
			saveFile(`${name}.xlsx`, await (await import('./workbook')).workbookOf(await rows(), sheet!)),
		),
		...when(chart !== undefined, 'PNG', () => saveAddress(`${name}.png`, chart!.png())),
		...when(chart !== undefined, 'SVG', () => saveFile(`${name}.svg`, chart!.svg(), 'image/svg+xml')),
	]);
</script>

<span class="flex shrink-0 items-baseline gap-2 text-ink-2">
	<Button
		aria-label="Copy {of}"
		title="Copy the figures, for a spreadsheet or a text"
		onpointerleave={() => (copied = 'no')}
		onblur={() => (copied = 'no')}
		onclick={async () => (copied = copyRows(await rows(), reader.mark) ? 'yes' : 'refused')}
		><span aria-live="polite">{COPY_WORDS[copied]}</span></Button
	>
	<span class="text-rule" aria-hidden="true">|</span>
	<span class="sr-only">download</span>
	{#each formats as [format, save] (format)}
		<Button aria-label="{of} as {format}" title="Download as {format}" onclick={save}>{format}</Button>
	{/each}
</span>
