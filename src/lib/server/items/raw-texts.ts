import { createHash } from 'node:crypto';
import { pool, type Queryable } from '../database/database';

/** Bytes of a piece: small enough to hold a few of them at once, large enough to be few. */
const PIECE = 1_048_576;

/**
 * Keeps bytes as they came, in pieces, so that no more than one of them is held at a time.
 * @param content the whole, or its parts in order
 * @returns the id of the text
 */
export async function insertRawText(
	client: Queryable,
	text: { workspaceId: number; fileName: string | null; content: Buffer | AsyncIterable<Buffer> },
): Promise<number> {
	const { rows } = await client.query<{ id: number }>(
		`SELECT nextval(pg_get_serial_sequence('raw_text', 'id')) AS id`,
	);
	const id = rows[0]!.id;
	const digest = createHash('sha256');
	let position = 0;
	for await (const piece of inPieces(text.content)) {
		digest.update(piece);
		await client.query(
			'INSERT INTO raw_piece (workspace_id, raw_text_id, position, content) VALUES ($1, $2, $3, $4)',
			[text.workspaceId, id, position++, piece],
		);
	}
	await client.query(
		`INSERT INTO raw_text (id, workspace_id, file_name, sha256)
		OVERRIDING SYSTEM VALUE VALUES ($1, $2, $3, $4)`,
		[id, text.workspaceId, text.fileName, digest.digest()],
	);
	return id;
}

async function* inPieces(content: Buffer | AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
	if (!Buffer.isBuffer(content)) {
		yield* content;
		return;
	}
	for (let at = 0; at < content.length; at += PIECE) yield content.subarray(at, at + PIECE);
}

/** A kept text: its name, and its bytes piece by piece. */
export interface RawText {
	fileName: string | null;
	pieces: ReadableStream<Uint8Array>;
}

/** The newest text that figures of an item came from; null where there is none. */
export async function loadRawText(workspaceId: number, itemId: number): Promise<RawText | null> {
	const { rows } = await pool().query<{ id: number; file_name: string | null }>(
		`SELECT raw_text.id, raw_text.file_name
		FROM raw_text
		JOIN data_change ON data_change.workspace_id = raw_text.workspace_id AND data_change.raw_text_id = raw_text.id
		WHERE raw_text.workspace_id = $1 AND data_change.id IN (
			SELECT data_change_id FROM actual WHERE workspace_id = $1 AND item_id = $2
		)
		ORDER BY raw_text.id DESC
		LIMIT 1`,
		[workspaceId, itemId],
	);
	const row = rows[0];
	return row ? { fileName: row.file_name, pieces: piecesOf(workspaceId, row.id) } : null;
}

function piecesOf(workspaceId: number, id: number): ReadableStream<Uint8Array> {
	let position = 0;
	return new ReadableStream({
		async pull(controller) {
			const { rows } = await pool().query<{ content: Buffer }>(
				'SELECT content FROM raw_piece WHERE workspace_id = $1 AND raw_text_id = $2 AND position = $3',
				[workspaceId, id, position++],
			);
			if (rows[0]) controller.enqueue(new Uint8Array(rows[0].content));
			else controller.close();
		},
	});
}
