export interface World {
	settings: Record<string, string>;
	startStile(): Promise<unknown>;
	stop(): Promise<void>;
	ownerUrl(): string | null;
}
export type Ports = Record<string, number>;
export function portsFrom(base: number): Ports;
export function launch(ask: {
	folder: string;
	ports: Ports;
	isFresh: boolean;
	isThrowaway?: boolean;
	say?: <T>(name: string, work: () => T | Promise<T>) => Promise<T> | T;
}): Promise<World>;
