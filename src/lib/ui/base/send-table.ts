import type { RefusalBody } from '../../wire/service';
import type { StreamProgress } from '../../wire/bring-in';
import { answerOf, CallError, refused, withProof } from './call';

/** How a table was sent: its asked as a line of JSON, then its bytes. */
const body = (asked: object, content: Blob | string) =>
	new Blob([`${JSON.stringify(asked)}\n`, content], { type: 'application/octet-stream' });
const GONE = 'The server cannot be reached just now. Nothing was stored; what you have here stays.';

/**
 * Sends a table with what is wanted of it.
 * @throws CallError with a sentence to show
 */
export const sendTable = <T>(address: string, asked: object, content: Blob | string): Promise<T> =>
	withProof(() => sendOnce<T>(address, asked, content));

async function sendOnce<T>(address: string, asked: object, content: Blob | string): Promise<T> {
	let response: Response;
	try {
		response = await fetch(address, {
			method: 'POST',
			body: body(asked, content),
			headers: { 'content-type': 'application/octet-stream' },
		});
	} catch {
		throw new CallError(0, GONE, null);
	}
	return answerOf<T>(response);
}

/** How far a large file is. */
export type Sending = { stage: 'sending'; share: number } | Extract<StreamProgress, { stage: string }>;

/**
 * Sends a file of any size, and tells how far it is. An XMLHttpRequest, because only that one says how much of a
 * body has left the browser.
 * @returns what came of it, and a way to stop it: nothing is stored then
 */
export function sendFile(
	address: string,
	asked: object,
	file: File,
	tell: (sending: Sending) => void,
): { done: Promise<Extract<StreamProgress, { done: unknown }>['done']>; stop: () => void } {
	const request = new XMLHttpRequest();
	let read = 0;
	let last: StreamProgress | null = null;
	const lines = () => {
		const end = request.responseText.lastIndexOf('\n');
		if (end < read) return;
		for (const line of request.responseText.slice(read, end).split('\n'))
			if (line) last = JSON.parse(line) as StreamProgress;
		read = end + 1;
		if (last && 'stage' in last) tell(last);
	};
	const done = new Promise<Extract<StreamProgress, { done: unknown }>['done']>((resolve, reject) => {
		request.upload.onprogress = ({ loaded, total }) =>
			tell({ stage: 'sending', share: total > 0 ? loaded / total : 0 });
		request.onprogress = lines;
		request.onerror = () => reject(new CallError(0, GONE, null));
		request.onabort = () => reject(new CallError(0, 'Stopped. Nothing was stored.', null));
		request.onload = () => {
			if (request.status !== 200) {
				reject(refused(request.status, parsed(request.responseText)));
				return;
			}
			lines();
			if (last && 'done' in last) resolve(last.done);
			else
				reject(
					new CallError(
						422,
						last && 'refused' in last ? last.refused.message : GONE,
						last && 'refused' in last ? last.refused : null,
					),
				);
		};
	});
	request.open('POST', address);
	request.setRequestHeader('content-type', 'application/octet-stream');
	request.send(body(asked, file));
	return { done, stop: () => request.abort() };
}

function parsed(text: string): RefusalBody | null {
	try {
		return JSON.parse(text) as RefusalBody;
	} catch {
		return null;
	}
}
