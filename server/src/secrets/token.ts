import { createHash, randomBytes } from 'node:crypto';

/** 256 random bits, as they may stand in addresses and cookies. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What is kept of a token, so that who reads the database gets in nowhere. It is random, so that nothing slower is needed. */
export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex');
