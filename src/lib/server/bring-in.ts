import type { CandidateInput } from '$core/methods/method';
import { CALENDAR_SEASON_LENGTH } from '$core/series/frequency';
import { readText } from '../reading/read';
import type { BringIn } from '../shapes';
import { insertActuals, insertDataChange } from './actuals';
import { breaksUnique, transaction } from './database';
import { writeCandidates } from './line-ups';
import { insertRawText } from './raw-texts';
import { Refusal } from './refusal';
import type { Actor } from './workspaces';

/** What every new item begins with: the yardstick, an average and simple smoothing at plausible constants. */
function firstLineUp(values: readonly (number | null)[]): CandidateInput[] {
	// The usual start of simple smoothing is the first actual; where that is missing, the mean of the first ones.
	const start = values[0] === null ? { start: { rule: 'mean' as const } } : {};
	return [
		{ id: 'a', method: 'naive' },
		{ id: 'b', method: 'moving-average', span: 3 },
		{ id: 'c', method: 'ses', constants: { alpha: 0.3 }, ...start },
	];
}

/**
 * Reads a text again, as the browser showed it, and keeps it as a new item: the text byte for byte, the figures
 * and a first line-up, all or nothing.
 * @throws Refusal with the reading's problem, or where the code is taken
 */
export async function bringIn(actor: Actor, request: BringIn): Promise<{ code: string; periods: number }> {
	const reading = readText(request.text, request.choices);
	if (reading.problem) throw new Refusal(422, reading.problem, [{ path: 'text', message: reading.problem }]);
	const { workspaceId, name: by } = actor;
	const { frequency, values, first } = reading;
	try {
		return await transaction(async (client) => {
			const rawTextId = await insertRawText(client, {
				workspaceId,
				fileName: request.fileName ?? null,
				content: Buffer.from(request.text, 'utf8'),
				by,
			});
			const dataChangeId = await insertDataChange(client, {
				workspaceId,
				rawTextId,
				reading: request.choices,
				by,
			});
			const { rows } = await client.query<{ id: number }>(
				`INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, created_by)
				VALUES ($1, $2, $3, $4, $5, $6, $7) RETURNING id`,
				[
					workspaceId,
					request.code,
					request.name,
					request.unit,
					frequency,
					CALENDAR_SEASON_LENGTH[frequency],
					by,
				],
			);
			const itemId = rows[0]!.id;
			await insertActuals(client, { workspaceId, itemId, dataChangeId, first, values });
			await writeCandidates(client, workspaceId, itemId, { candidates: firstLineUp(values), hidden: [] });
			return { code: request.code, periods: values.length };
		});
	} catch (error) {
		if (!breaksUnique(error, 'item_workspace_id_code_key')) throw error;
		const message = `There is already an item with the code ${request.code}. Choose another code; nothing was stored.`;
		throw new Refusal(409, message, [{ path: 'code', message }]);
	}
}
