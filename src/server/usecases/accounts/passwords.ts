import { hash, verify } from '@node-rs/argon2';

/** OWASP password storage: Argon2id, 19 MiB, 2 passes, 1 lane. */
const STRENGTH = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** NIST SP 800-63B §5.1.1.2: length before composition. */
export const MIN_PASSWORD_LENGTH = 10;
export const MAX_PASSWORD_LENGTH = 200;

export const hashPassword = (password: string) => hash(password, STRENGTH);

let nobodys: Promise<string> | null = null;

/** Takes as long for an address that nobody has as for one with a password. */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
	nobodys ??= hashPassword('nobody has this password');
	const matches = await verify(stored ?? (await nobodys), password);
	return matches && stored !== null;
}
