CREATE INDEX `agreements_began` ON `agreements` (`anchor`);--> statement-breakpoint
CREATE INDEX `agreements_state` ON `agreements` (`state`,`anchor`);