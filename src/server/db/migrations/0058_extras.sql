CREATE TABLE `extra_answers` (
	`id` uuid NOT NULL,
	`order_id` uuid NOT NULL,
	`extra_id` uuid NOT NULL,
	`takes` boolean NOT NULL,
	`taken_id` uuid,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `extra_answers_id` PRIMARY KEY(`id`),
	CONSTRAINT `extra_answers_once` UNIQUE(`order_id`,`extra_id`)
);
--> statement-breakpoint
CREATE TABLE `extras` (
	`id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`price_id` uuid NOT NULL,
	`words` varchar(500) NOT NULL DEFAULT '',
	`less` json,
	`position` int NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`ended_at` datetime(3),
	CONSTRAINT `extras_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `orders` ADD `extra_of` uuid;--> statement-breakpoint
ALTER TABLE `extra_answers` ADD CONSTRAINT `extra_answers_order_id_orders_id_fk` FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `extra_answers` ADD CONSTRAINT `extra_answers_extra_id_extras_id_fk` FOREIGN KEY (`extra_id`) REFERENCES `extras`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `extras` ADD CONSTRAINT `extras_plan_id_plans_id_fk` FOREIGN KEY (`plan_id`) REFERENCES `plans`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `extras` ADD CONSTRAINT `extras_price_id_prices_id_fk` FOREIGN KEY (`price_id`) REFERENCES `prices`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `extra_answers_extra` ON `extra_answers` (`extra_id`,`taken_id`);--> statement-breakpoint
CREATE INDEX `extras_plan` ON `extras` (`plan_id`,`ended_at`);