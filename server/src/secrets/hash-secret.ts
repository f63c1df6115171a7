import { hash, verify } from '@node-rs/argon2';

/** 19 MiB, two passes, one lane (OWASP, Password Storage Cheat Sheet; RFC 9106); the kept package's own algorithm is Argon2id. */
const ARGON2ID = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** What is kept of something that a person has to know. It can be tried, and not read. */
export const hashSecret = (secret: string): Promise<string> => hash(secret.normalize('NFC'), ARGON2ID);

/** Whether something is what was hashed. It takes as long where nothing was, so that nobody learns from the time. */
export async function isSecret(hashed: string | null, secret: string): Promise<boolean> {
  const isSame = await verify(hashed ?? (await NOTHING), secret.normalize('NFC'));
  return isSame && hashed !== null;
}

const NOTHING = hashSecret('');
