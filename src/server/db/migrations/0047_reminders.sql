ALTER TABLE `accounts` ADD `reminders_off_at` datetime(3);--> statement-breakpoint
ALTER TABLE `accounts` ADD `reminded_at` datetime(3);