CREATE TABLE `gifts` (
	`id` uuid NOT NULL,
	`order_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`access` json NOT NULL,
	`giver_name` varchar(120) NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin,
	`words` varchar(500) NOT NULL DEFAULT '',
	`tell_at` datetime(3) NOT NULL,
	`told_at` datetime(3),
	`member_id` uuid,
	`opened_at` datetime(3),
	CONSTRAINT `gifts_id` PRIMARY KEY(`id`),
	CONSTRAINT `gifts_order_id_unique` UNIQUE(`order_id`)
);
--> statement-breakpoint
ALTER TABLE `plans` ADD `sells_as_gift` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `gifts` ADD CONSTRAINT `gifts_order_id_orders_id_fk` FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `gifts_email` ON `gifts` (`email`);--> statement-breakpoint
CREATE INDEX `gifts_member` ON `gifts` (`member_id`);