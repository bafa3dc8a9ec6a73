import { answering } from '$lib/server/http/http';
import { setAlarmChance } from '$lib/server/status/status';

export const PUT = answering('PUT /watching', async ({ locals }, watching) => {
	await setAlarmChance(locals.actor, watching.alarmChance);
	return watching;
});
