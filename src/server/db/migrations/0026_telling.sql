CREATE TABLE `tell_rounds` (
	`id` int NOT NULL,
	`looked_at` datetime(3) NOT NULL,
	`began_at` datetime(3) NOT NULL,
	`lapses_until` datetime(3) NOT NULL,
	`daily_at` datetime(3) NOT NULL,
	CONSTRAINT `tell_rounds_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `tell_wishes` (
	`account_id` uuid NOT NULL,
	`kind` varchar(10) NOT NULL,
	`how` varchar(8) NOT NULL,
	CONSTRAINT `tell_wishes_account_id_kind_pk` PRIMARY KEY(`account_id`,`kind`)
);
--> statement-breakpoint
CREATE TABLE `tellings` (
	`id` uuid NOT NULL,
	`source` varchar(160) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`action` varchar(40) NOT NULL,
	`has_ended` boolean NOT NULL,
	`job_kind` varchar(30),
	`member_id` uuid,
	`plan_id` uuid,
	`actor_id` uuid,
	`at` datetime(3) NOT NULL,
	`found_at` datetime(3) NOT NULL,
	`at_once_batch` uuid,
	`daily_batch` uuid,
	CONSTRAINT `tellings_id` PRIMARY KEY(`id`),
	CONSTRAINT `tellings_source_unique` UNIQUE(`source`)
);
--> statement-breakpoint
CREATE INDEX `tellings_at_once` ON `tellings` (`at_once_batch`);--> statement-breakpoint
CREATE INDEX `tellings_daily` ON `tellings` (`daily_batch`);--> statement-breakpoint
CREATE INDEX `tellings_found` ON `tellings` (`found_at`);