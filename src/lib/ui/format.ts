import { figure } from '../figure';

export { figure };

/** As `figure`, with a plus sign before what is above zero. */
export function signed(value: number | null | undefined, decimals: number): string {
	const text = figure(value, decimals);
	return value !== null && value !== undefined && value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** Decimals for a square: its figures are as many digits longer. */
export const squareDecimals = (decimals: number): number => Math.max(0, decimals - 1);

/** "3 Nov 2026, 14:05" in the reader's own time. */
export function moment(iso: string): string {
	return new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
}

/** A text as a file in the reader's downloads. */
export function saveFile(name: string, content: string | Blob, type = 'text/plain'): void {
	const address = URL.createObjectURL(content instanceof Blob ? content : new Blob([content], { type }));
	saveAddress(name, address);
	URL.revokeObjectURL(address);
}

/** What an address holds as a file in the reader's downloads. */
export function saveAddress(name: string, address: string): void {
	const link = document.createElement('a');
	link.href = address;
	link.download = name.replace(/[\\/:*?"<>|]/g, '-');
	link.click();
}
