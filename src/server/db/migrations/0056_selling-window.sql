ALTER TABLE `plans` ADD `sells_from` datetime(3);--> statement-breakpoint
ALTER TABLE `plans` ADD `sells_until` datetime(3);