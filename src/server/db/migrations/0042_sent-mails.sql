CREATE TABLE `sent_mails` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`address` varchar(254) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`subject` varchar(300) NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `sent_mails_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE INDEX `sent_mails_member` ON `sent_mails` (`member_id`,`at`);--> statement-breakpoint
CREATE INDEX `sent_mails_at` ON `sent_mails` (`at`);