/** Who may do what, who signed in and with what, and what happened. */
import * as v from 'valibot';
import { BOUNDS } from '$core/bounds';
import { textSchema, wholeSchema } from '$core/schemas';
import { figureIn, queryOf } from './query';

/** What somebody may do: each role what those before it may, and more. */
export const ROLES = ['look', 'work', 'manage'] as const;
export type Role = (typeof ROLES)[number];
/** Whom a call or a page is for; `anyone` before signing in. */
export type For = 'anyone' | Role;

/** What each role may, as screens say it. */
export const ROLE_SAYS: Readonly<Record<Role, string>> = {
	look: 'sees everything and tries settings out, and saves nothing',
	work: 'sees everything, brings in, adjusts, adopts and sweeps',
	manage: 'does all of it, invites people, makes tokens and sets what holds for all',
};

/** What each role is called. */
export const ROLE_NAMES = { look: 'look', work: 'work', manage: 'manage' } as const satisfies Record<
	Role,
	Role
>;

/** Whether a role may do what is for another. */
export const mayDo = (role: Role | null, wanted: For): boolean =>
	wanted === 'anyone' || (role !== null && ROLES.indexOf(role) >= ROLES.indexOf(wanted));

/** Characters that a password has at the least. */
export const LEAST_PASSWORD = 12;

/** Minutes after which people, tokens and roles ask for the password again. */
export const FRESH_MINUTES = 10;
/** Days that a token may last at most. */
export const TOKEN_DAYS = 366;

const roleSchema = v.picklist(ROLES, `the role is ${ROLES.join(', ')}`);
const nameSchema = textSchema('the name', 1, BOUNDS.personName);
const givenPassword = v.pipe(
	v.string('the password is a text'),
	v.maxLength(BOUNDS.password, `a password has at most ${BOUNDS.password} characters`),
);
const code = v.exactOptional(
	v.pipe(
		v.string('the code is a text'),
		v.transform((text) => text.replace(/\s/g, '')),
		v.regex(/^(\d{6})?$/, 'the code of the second factor has six digits'),
	),
);

export const SignInSchema = v.strictObject({ name: nameSchema, password: givenPassword, code });
export type SignIn = v.InferOutput<typeof SignInSchema>;
export const ProveAgainSchema = v.strictObject({ password: givenPassword, code });
export const UseLinkSchema = v.strictObject({ key: textSchema('the key', 1, 100), password: givenPassword });
export const NewPasswordSchema = v.strictObject({ current: givenPassword, password: givenPassword });

/** Who asks, as pages know it. */
export const MeSchema = v.strictObject({
	/** Whether people sign in; where they do not, whoever asks is this machine. */
	signIn: v.boolean(),
	kind: v.picklist(['person', 'token', 'machine']),
	id: v.nullable(v.number()),
	name: v.string(),
	role: v.picklist(ROLES),
	/** Whether a second factor is on, and whether managing waits until it is. */
	secondFactor: v.boolean(),
	secondFactorWanted: v.boolean(),
	/** Who manages, for whom may not. */
	managers: v.array(v.string()),
});
export type Me = v.InferOutput<typeof MeSchema>;

/** A secret for time-based codes (RFC 6238): in base 32, and as an address that apps read from a picture. */
export const NewFactorSchema = v.strictObject({ secret: v.string(), address: v.string() });
export const FactorOnSchema = v.strictObject({
	secret: v.pipe(v.string(), v.regex(/^[A-Z2-7]{32}$/, 'the secret is the one that was shown')),
	code: v.pipe(v.string(), v.regex(/^\d{6}$/, 'the code of the second factor has six digits')),
});

export const SessionSchema = v.strictObject({
	id: v.number(),
	browser: v.string(),
	at: v.string(),
	used: v.string(),
	/** Whether it is the one that asks. */
	own: v.boolean(),
});
export type Session = v.InferOutput<typeof SessionSchema>;

export const PersonSchema = v.strictObject({
	id: v.number(),
	name: v.string(),
	role: v.picklist(ROLES),
	at: v.string(),
	by: v.string(),
	/** Whether a password was chosen; until then the link that invited waits. */
	joined: v.boolean(),
	secondFactor: v.boolean(),
	used: v.nullable(v.string()),
});
export type Person = v.InferOutput<typeof PersonSchema>;

export const PeopleSchema = v.strictObject({
	people: v.array(PersonSchema),
	/** Whether who manages needs a second factor. */
	secondFactor: v.boolean(),
});
export type People = v.InferOutput<typeof PeopleSchema>;
export const NewPersonSchema = v.strictObject({ name: nameSchema, role: roleSchema });
/** The key of a link: behind the `#` of `/invited`. */
export const LinkSchema = v.strictObject({ id: v.number(), key: v.string() });
export const PersonChangeSchema = v.strictObject({
	role: v.exactOptional(roleSchema),
	left: v.exactOptional(v.literal(true)),
});
export const AccessSchema = v.strictObject({ secondFactor: v.boolean('secondFactor is true or false') });

export const TokenSchema = v.strictObject({
	id: v.number(),
	name: v.string(),
	role: v.picklist(ROLES),
	at: v.string(),
	by: v.string(),
	ends: v.string(),
	used: v.nullable(v.string()),
});
export type Token = v.InferOutput<typeof TokenSchema>;
export const NewTokenSchema = v.strictObject({
	name: nameSchema,
	role: roleSchema,
	days: wholeSchema(1, TOKEN_DAYS, 'the days that it lasts'),
});
/** What a token is: shown once. */
export const MadeTokenSchema = v.strictObject({ id: v.number(), token: v.string() });

/** What happened, by what it is about. */
export const HAPPENED = ['figures', 'forecasts', 'items', 'access', 'refused'] as const;
export type About = (typeof HAPPENED)[number];

export const HappenedSchema = v.strictObject({
	about: v.picklist(HAPPENED),
	kind: v.string(),
	at: v.string(),
	/** Who did it; null where nobody is known to have. */
	by: v.nullable(v.string()),
	/** An item of those that it is about, and how many they are. */
	code: v.nullable(v.string()),
	items: v.number(),
	sweep: v.nullable(v.number()),
	/** Whom it is about. */
	whom: v.nullable(v.string()),
	words: v.string(),
});
export type Happened = v.InferOutput<typeof HappenedSchema>;
export const HappenedWindowSchema = v.strictObject({
	events: v.array(HappenedSchema),
	next: v.nullable(v.string()),
	/** Who did something, to ask for. */
	actors: v.array(v.strictObject({ id: v.number(), name: v.string() })),
});
export type HappenedWindow = v.InferOutput<typeof HappenedWindowSchema>;

export const HAPPENED_QUERY = queryOf({
	params: {
		about: { does: 'what it is about', of: HAPPENED },
		by: { does: 'who did it, by number' },
		from: { does: 'where the window begins: `next` of the last answer' },
	},
	schema: v.strictObject({
		about: v.nullable(v.picklist(HAPPENED, `about is one of ${HAPPENED.join(', ')}`)),
		by: v.nullable(wholeSchema(1, Number.MAX_SAFE_INTEGER, 'by')),
		from: v.nullable(
			v.pipe(
				v.string(),
				v.regex(/^[\d:.TZ+-]{10,40}~[\w:-]{1,80}$/, 'from is where an answer before it ended'),
			),
		),
	}),
	written: (address) => {
		const by = address.get('by');
		return {
			about: address.get('about'),
			by: by === null ? null : (figureIn(by) ?? by),
			from: address.get('from'),
		};
	},
});
export type HappenedAsked = v.InferOutput<typeof HAPPENED_QUERY.schema>;
