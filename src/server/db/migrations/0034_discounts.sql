ALTER TABLE `code_batches` ADD `discount` json;--> statement-breakpoint
ALTER TABLE `code_batches` ADD `off_plans` json;--> statement-breakpoint
ALTER TABLE `code_batches` ADD `is_once_per_buyer` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `code_id` uuid;--> statement-breakpoint
ALTER TABLE `orders` ADD `discount` json;--> statement-breakpoint
ALTER TABLE `plans` ADD `note` varchar(2000) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `plans` ADD `less_for` json;--> statement-breakpoint
CREATE INDEX `orders_code` ON `orders` (`code_id`,`state`);--> statement-breakpoint
CREATE INDEX `orders_device` ON `orders` (`device_hash`);