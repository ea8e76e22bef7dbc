CREATE TABLE `address_changes` (
	`token_hash` char(64) NOT NULL,
	`account_id` uuid NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`undoes` datetime(3),
	`created_at` datetime(3) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `address_changes_token_hash` PRIMARY KEY(`token_hash`)
);
--> statement-breakpoint
ALTER TABLE `sent_mails` ADD `fate` varchar(10) DEFAULT 'sent' NOT NULL;--> statement-breakpoint
ALTER TABLE `sent_mails` ADD `fate_code` varchar(12);--> statement-breakpoint
ALTER TABLE `sent_mails` ADD `fate_words` varchar(300);--> statement-breakpoint
ALTER TABLE `sent_mails` ADD `fate_at` datetime(3);--> statement-breakpoint
ALTER TABLE `sent_mails` ADD `cleared_at` datetime(3);--> statement-breakpoint
ALTER TABLE `address_changes` ADD CONSTRAINT `address_changes_account_id_accounts_id_fk` FOREIGN KEY (`account_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `address_changes_account` ON `address_changes` (`account_id`);--> statement-breakpoint
CREATE INDEX `address_changes_end` ON `address_changes` (`expires_at`);--> statement-breakpoint
CREATE INDEX `sent_mails_address` ON `sent_mails` (`address`,`fate`,`at`);--> statement-breakpoint
CREATE INDEX `sent_mails_fate` ON `sent_mails` (`fate`,`fate_at`);