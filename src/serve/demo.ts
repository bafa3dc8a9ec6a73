/**
 * The demo data, made anew: works the depot out in the empty database of DATABASE_URL and writes it as text. `npm run demo` keeps it,
 * and the server lays it out where a database is new.
 */
import { closePool, pool } from '../lib/server/database/database';
import { makeDepot } from '../lib/server/demo/depot';
import { keptText } from '../lib/server/demo/kept';
import { closeThreads } from '../lib/server/threads/threads';
import { createWorkspace, demoActor } from '../lib/server/database/workspaces';

const workspaceId = await createWorkspace(pool(), 'Kestrel Bay Cycle Supply');
await makeDepot(demoActor(workspaceId));
const client = await pool().connect();
const text = await keptText(client, workspaceId);
client.release();
await new Promise((done) => process.stdout.write(text, done));
await Promise.all([closeThreads(), closePool()]);
