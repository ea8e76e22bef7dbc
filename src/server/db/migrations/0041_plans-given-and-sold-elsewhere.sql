ALTER TABLE `plans` ADD `buy_at` varchar(500);--> statement-breakpoint
ALTER TABLE `plans` ADD `statement_name` varchar(22);--> statement-breakpoint
ALTER TABLE `plans` ADD `given_from` datetime(3);--> statement-breakpoint
ALTER TABLE `plans` ADD `sole_item_id` uuid;--> statement-breakpoint
ALTER TABLE `plans` ADD CONSTRAINT `plans_sole_item_id_unique` UNIQUE(`sole_item_id`);