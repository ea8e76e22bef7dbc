/** Moments for people, in the publisher's zone. */
import type { Instant } from '$core/time/instant';

export function formatDay(at: Instant, zone: string): string {
	return new Intl.DateTimeFormat('en-GB', {
		day: 'numeric',
		month: 'short',
		year: 'numeric',
		timeZone: zone
	}).format(at);
}

export function formatMoment(at: Instant, zone: string): string {
	return new Intl.DateTimeFormat('en-GB', {
		day: 'numeric',
		month: 'short',
		year: 'numeric',
		hour: '2-digit',
		minute: '2-digit',
		timeZone: zone
	}).format(at);
}

/** `75` seconds are `1:15`, `3675` are `1:01:15`. */
export function formatLength(seconds: number): string {
	const two = (n: number) => String(n).padStart(2, '0');
	const [h, m, s] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60];
	return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}

export function formatBytes(bytes: number): string {
	const units = ['bytes', 'KB', 'MB', 'GB', 'TB'];
	const step = Math.min(units.length - 1, Math.floor(Math.log(Math.max(1, bytes)) / Math.log(1024)));
	const value = bytes / 1024 ** step;
	return `${step === 0 || value >= 100 ? Math.round(value) : value.toFixed(1)} ${units[step]}`;
}

export const PERIOD_WORDS = { month: 'a month', year: 'a year' } as const;
