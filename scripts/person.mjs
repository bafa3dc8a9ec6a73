// npm run person -- add NAME --role manage: invites somebody who may sign in. Later ones are invited on the page People.
// npm run person -- link NAME: another link for somebody who is locked out.
import { accessOf } from './lib/access.mjs';
import { connected } from './lib/connected.mjs';
import { ownCluster } from './lib/own-cluster.mjs';
import { linkFor } from './lib/person-link.mjs';
import { prepareDatabase, preparePackages } from './lib/prepare.mjs';
import { fail, say, Stop } from './lib/say.mjs';

const ROLES = ['look', 'work', 'manage'];
const USAGE = `npm run person -- add NAME --role ${ROLES.join('|')}
npm run person -- link NAME`;

/** @param {string[]} args */
function asked(args) {
	const at = args.indexOf('--role');
	const role = at < 0 ? null : (args[at + 1] ?? '');
	const [what, name, ...rest] = at < 0 ? args : args.toSpliced(at, 2);
	if (!what || !name || rest.length > 0 || !['add', 'link'].includes(what)) throw new Stop(USAGE);
	if ((what === 'add') !== (role !== null)) throw new Stop(USAGE);
	if (role !== null && !ROLES.includes(role))
		throw new Stop(`The role is one of ${ROLES.join(', ')}, not “${role}”.`);
	if (name.trim() !== name || name.length > 80)
		throw new Stop('A name has at most 80 characters, and no space around it.');
	return { what, name, role };
}

async function main() {
	const wanted = asked(process.argv.slice(2));
	accessOf({ ...process.env, VENTREL_SIGN_IN: 'on' });
	const own = process.env.DATABASE_URL;
	await preparePackages(own ? [] : ['postgresql']);
	const database = own ? { url: own, stop: async () => undefined } : await ownCluster();
	try {
		await prepareDatabase(database.url);
		await connected(database.url, async (client) => {
			await client.query('BEGIN');
			const key = await linkFor(client, wanted);
			await client.query('COMMIT');
			const origin = process.env.VENTREL_ORIGIN || `http://127.0.0.1:${process.env.PORT ?? 4680}`;
			say(
				`\nA link for ${wanted.name}, good once and for a day:\n${origin.replace(/\/$/, '')}/invited#${key}\nIf Ventrel answers at another address, put that in front.`,
			);
		});
	} finally {
		await database.stop();
	}
}

main().catch(fail);
