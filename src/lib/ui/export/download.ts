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
