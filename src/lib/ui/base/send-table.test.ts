import { expect, test, vi } from 'vitest';
import { type Sending, sendFile, sendTable } from './send-table';

test('a table goes as a line of JSON with what is wanted, and its bytes after it', async () => {
	let sent: Blob | undefined;
	vi.stubGlobal('fetch', async (_: string, { body }: { body: Blob }) => {
		sent = body;
		return Response.json([{ code: 'x' }]);
	});
	const table = new Blob([new Uint8Array([1, 10, 255])]);
	expect(await sendTable('/api/v1/bring-in', { items: [] }, table)).toEqual([{ code: 'x' }]);
	const bytes = new Uint8Array(await sent!.arrayBuffer());
	expect(new TextDecoder().decode(bytes.subarray(0, 13))).toBe('{"items":[]}\n');
	expect([...bytes.subarray(13)]).toEqual([1, 10, 255]);
});

test('a table that does not reach the server is not lost, and that is said', async () => {
	vi.stubGlobal('fetch', () => Promise.reject(new TypeError('failed')));
	await expect(sendTable('/x', {}, '')).rejects.toMatchObject({
		status: 0,
		message: expect.stringMatching(/Nothing was stored/),
	});
});

/** A request whose answer comes piece by piece, as a test says. */
class HandledRequest {
	static last: HandledRequest;
	upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
	onprogress?: () => void;
	onload?: () => void;
	onerror?: () => void;
	onabort?: () => void;
	status = 200;
	responseText = '';
	opened = '';
	constructor() {
		HandledRequest.last = this;
	}
	open(method: string, address: string) {
		this.opened = `${method} ${address}`;
	}
	setRequestHeader() {}
	send() {}
	abort() {
		this.onabort?.();
	}
	/** More of the answer arrives. */
	more(text: string) {
		this.responseText += text;
		this.onprogress?.();
	}
	end(text = '', status = 200) {
		this.responseText += text;
		this.status = status;
		this.onload?.();
	}
}

function sending() {
	vi.stubGlobal('XMLHttpRequest', HandledRequest);
	const told: Sending[] = [];
	const sent = sendFile('/api/v1/bring-in/stream', {}, new File(['a;1'], 'a.csv'), (step) => told.push(step));
	return { ...sent, told, request: HandledRequest.last };
}

const DONE = { items: 2, created: 2, added: 9, corrected: 0, same: 0, rows: 9, stored: true };
const reading = (share: number) => ({ stage: 'reading' as const, share, rows: 4, items: 1 });

test('a file says how far it is: sent, then read, whole lines at a time, and what came of it', async () => {
	const { done, told, request } = sending();
	expect(request.opened).toBe('POST /api/v1/bring-in/stream');
	request.upload.onprogress!({ loaded: 1, total: 4 });
	const line = JSON.stringify(reading(0.5));
	request.more(line.slice(0, 9));
	expect(told).toEqual([{ stage: 'sending', share: 0.25 }]);
	request.more(`${line.slice(9)}\n`);
	expect(told.at(-1)).toEqual(reading(0.5));
	request.end(`${JSON.stringify({ done: DONE })}\n`);
	expect(await done).toEqual(DONE);
});

test('a refusal in the last line, or of the whole, is thrown with its sentence', async () => {
	const late = sending();
	late.request.more(`${JSON.stringify(reading(0.1))}\n`);
	late.request.end(`${JSON.stringify({ refused: { message: 'Row 7 has no figure.' } })}\n`);
	await expect(late.done).rejects.toMatchObject({ status: 422, message: 'Row 7 has no figure.' });
	const whole = sending();
	whole.request.end(JSON.stringify({ message: 'Too large.' }), 413);
	await expect(whole.done).rejects.toMatchObject({ status: 413, message: 'Too large.' });
	const odd = sending();
	odd.request.end('<html>', 500);
	await expect(odd.done).rejects.toMatchObject({ status: 500, message: 'The server answered with 500.' });
});

test('stopped, cut off before the last line, or gone: nothing was stored, and that is said', async () => {
	const stopped = sending();
	stopped.stop();
	await expect(stopped.done).rejects.toMatchObject({ message: 'Stopped. Nothing was stored.' });
	const cut = sending();
	cut.request.end(`${JSON.stringify(reading(0.9))}\n`);
	await expect(cut.done).rejects.toThrow(/Nothing was stored/);
	const gone = sending();
	gone.request.onerror!();
	await expect(gone.done).rejects.toMatchObject({
		status: 0,
		message: expect.stringMatching(/Nothing was stored/),
	});
});
