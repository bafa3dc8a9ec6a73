import { createHash, randomBytes } from 'node:crypto';

/** Secrets of 256 random bits: of sessions, links and tokens. Only their digests are kept. */

export const newKey = (prefix = ''): string => prefix + randomBytes(32).toString('base64url');

export const digestOf = (key: string): Buffer => createHash('sha256').update(key).digest();

/** What tokens begin with, so that one that was published by mistake is recognised. */
export const TOKEN_PREFIX = 'ventrel_';
