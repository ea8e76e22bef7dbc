import { createHasher } from '../../people/hasher';

/** NIST SP 800-63B §5.1.1.2: length before composition. */
export const MIN_PASSWORD_LENGTH = 10;
export const MAX_PASSWORD_LENGTH = 200;

const hasher = createHasher();

export type Hashed = { ok: true; hash: string } | { ok: false; code: 'busy' };

export async function hashPassword(password: string): Promise<Hashed> {
	const hash = await hasher.hash(password);
	return hash === null ? { ok: false, code: 'busy' } : { ok: true, hash };
}

let nobodys: Promise<string | null> | null = null;

/** Takes as long for an address that nobody has as for one with a password. */
export async function isPassword(stored: string | null, password: string): Promise<'yes' | 'no' | 'busy'> {
	nobodys ??= hasher.hash('nobody has this password');
	const other = await nobodys;
	if (other === null) {
		nobodys = null;
		return 'busy';
	}
	const matches = await hasher.verify(stored ?? other, password);
	if (matches === null) return 'busy';
	return matches && stored !== null ? 'yes' : 'no';
}
