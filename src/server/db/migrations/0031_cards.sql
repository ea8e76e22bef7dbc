CREATE TABLE `card_changes` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`agreement_id` uuid NOT NULL,
	`processor_ref` varchar(80) character set utf8mb4 collate utf8mb4_bin,
	`pay_url` varchar(500),
	`state` varchar(10) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `card_changes_id` PRIMARY KEY(`id`),
	CONSTRAINT `card_changes_processor_ref_unique` UNIQUE(`processor_ref`)
);
--> statement-breakpoint
CREATE TABLE `cards` (
	`ref` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`member_id` uuid NOT NULL,
	`ending` varchar(4) NOT NULL,
	`expires` char(7),
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `cards_ref` PRIMARY KEY(`ref`)
);
--> statement-breakpoint
ALTER TABLE `card_changes` ADD CONSTRAINT `card_changes_agreement_id_agreements_id_fk` FOREIGN KEY (`agreement_id`) REFERENCES `agreements`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `cards` ADD CONSTRAINT `cards_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `card_changes_agreement` ON `card_changes` (`agreement_id`);--> statement-breakpoint
CREATE INDEX `card_changes_state` ON `card_changes` (`state`,`id`);--> statement-breakpoint
CREATE INDEX `cards_member` ON `cards` (`member_id`);--> statement-breakpoint
CREATE INDEX `payments_agreement` ON `payments` (`agreement_id`,`state`);