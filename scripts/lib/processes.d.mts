import type { Handle } from './launch.mjs';

export function start(
	name: string,
	command: string,
	args: string[],
	how: { env?: Record<string, string>; log: string }
): Handle & { hasEnded(): boolean; log: string };
export function until(
	check: () => boolean | Promise<boolean>,
	started: ReturnType<typeof start>,
	withinMs: number
): Promise<void>;
