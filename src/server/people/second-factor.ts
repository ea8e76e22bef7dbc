/**
 * Codes from an app on a phone, after RFC 6238 with what every such app knows: HMAC-SHA-1, six digits, thirty seconds.
 * Beside them a few recovery codes, for whoever has lost the phone.
 */
import { randomInt } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { toDataURL } from 'qrcode';
import { hashOf } from './sessions';

const STEP_SECONDS = 30;
const DIGITS = 6;
/** RFC 6238 §5.2: one step to either side, for clocks that differ and fingers that are slow. */
const STEPS_AROUND = 1;
/** RFC 4226 §4, R6: 160 bits. */
const SECRET_BYTES = 20;

export const RECOVERY_CODES = 10;
/** Without what is mistaken for something else: 32 letters, 5 bits each. */
const ALPHABET = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';
const RECOVERY_LETTERS = 16;

/** A secret in base32 (RFC 4648 §6), as it is typed into an app. */
export function newFactorSecret(): string {
	return new Secret({ size: SECRET_BYTES }).base32;
}

/** What the app reads from the picture. */
export function appAddress(secret: string, { site, email }: { site: string; email: string }): string {
	// A colon parts the two.
	return totp(secret, { issuer: site.replaceAll(':', ' '), label: email }).toString();
}

/** The code of a moment of the wall clock. */
export function codeAt(secret: string, wallNow: number): string {
	return totp(secret).generate({ timestamp: wallNow });
}

/**
 * The step of which a typed code is, or `null`: it is none, or was taken before.
 * @param lastStep of the code that was taken last. RFC 6238 §5.2: "The verifier MUST NOT accept the second attempt of the OTP"
 */
export function stepOf(secret: string, typed: string, wallNow: number, lastStep: number): number | null {
	const around = totp(secret).validate({ token: typed, timestamp: wallNow, window: STEPS_AROUND });
	if (around === null) return null;
	const step = Math.floor(wallNow / 1000 / STEP_SECONDS) + around;
	return step > lastStep ? step : null;
}

/** What was typed, told apart by its form; spaces and dashes are how people group it. */
export type TypedCode = { kind: 'app'; code: string } | { kind: 'recovery'; hash: string };

export function readTypedCode(typed: string): TypedCode | null {
	const bare = typed.replace(/[\s-]/g, '').toUpperCase();
	if (/^\d{6}$/.test(bare)) return { kind: 'app', code: bare };
	if (bare.length !== RECOVERY_LETTERS || [...bare].some((letter) => !ALPHABET.includes(letter))) return null;
	return { kind: 'recovery', hash: hashOf(bare) };
}

/** In groups of four, as they are written down. */
export function newRecoveryCode(): string {
	const letters = Array.from({ length: RECOVERY_LETTERS }, () => ALPHABET[randomInt(ALPHABET.length)] ?? '');
	return letters.join('').replace(/(.{4})(?=.)/g, '$1-');
}

function totp(secret: string, named: { issuer?: string; label?: string } = {}): TOTP {
	return new TOTP({
		secret: Secret.fromBase32(secret),
		algorithm: 'SHA1',
		digits: DIGITS,
		period: STEP_SECONDS,
		...named
	});
}

const PICTURE_PIXELS = 232;

/** An address as a picture for an app to read (QR code, ISO/IEC 18004), as a data URL. */
export function appPicture(address: string): Promise<string> {
	return toDataURL(address, { errorCorrectionLevel: 'M', width: PICTURE_PIXELS, margin: 2 });
}
