CREATE TABLE `waiting_list` (
	`id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	`told_at` datetime(3),
	CONSTRAINT `waiting_list_id` PRIMARY KEY(`id`),
	CONSTRAINT `waiting_list_once` UNIQUE(`plan_id`,`email`)
);
--> statement-breakpoint
ALTER TABLE `plans` ADD `first_day` datetime(3);--> statement-breakpoint
ALTER TABLE `plans` ADD `has_waiting_list` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `prices` ADD `first_buyers` int;--> statement-breakpoint
ALTER TABLE `waiting_list` ADD CONSTRAINT `waiting_list_plan_id_plans_id_fk` FOREIGN KEY (`plan_id`) REFERENCES `plans`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `waiting_list_next` ON `waiting_list` (`plan_id`,`told_at`,`at`);--> statement-breakpoint
CREATE INDEX `waiting_list_email` ON `waiting_list` (`email`);