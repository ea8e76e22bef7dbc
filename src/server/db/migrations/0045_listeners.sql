CREATE TABLE `calls` (
	`id` uuid NOT NULL,
	`listener_id` uuid NOT NULL,
	`event` varchar(8) NOT NULL,
	`content` json NOT NULL,
	`member_id` uuid,
	`state` varchar(8) NOT NULL,
	`due_at` datetime(3),
	`tries` int NOT NULL DEFAULT 0,
	`last_try_at` datetime(3),
	`status` int,
	`answer` varchar(300),
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `calls_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `listeners` (
	`id` uuid NOT NULL,
	`name` varchar(80) NOT NULL,
	`url` varchar(500) character set utf8mb4 collate utf8mb4_bin,
	`events` json NOT NULL,
	`plan_ids` json,
	`key_id` varchar(40) NOT NULL,
	`sealed` varchar(300) NOT NULL,
	`turn_token` uuid,
	`turn_until` datetime(3),
	`failures` int NOT NULL DEFAULT 0,
	`rests_until` datetime(3),
	`created_at` datetime(3) NOT NULL,
	`ended_at` datetime(3),
	CONSTRAINT `listeners_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `place_rounds` (
	`id` int NOT NULL,
	`is_kept` boolean NOT NULL,
	CONSTRAINT `place_rounds_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `told_places` (
	`member_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	CONSTRAINT `told_places_member_id_plan_id_pk` PRIMARY KEY(`member_id`,`plan_id`)
);
--> statement-breakpoint
ALTER TABLE `calls` ADD CONSTRAINT `calls_listener_id_listeners_id_fk` FOREIGN KEY (`listener_id`) REFERENCES `listeners`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `calls_of` ON `calls` (`listener_id`,`state`,`id`);--> statement-breakpoint
CREATE INDEX `calls_listed` ON `calls` (`listener_id`,`id`);--> statement-breakpoint
CREATE INDEX `calls_member` ON `calls` (`member_id`);--> statement-breakpoint
CREATE INDEX `calls_state` ON `calls` (`state`,`created_at`);