CREATE TABLE `offline_payments` (
	`ref` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`idempotency_key` varchar(120) NOT NULL,
	`state` varchar(10) NOT NULL,
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`settled_at` datetime(3),
	CONSTRAINT `offline_payments_ref` PRIMARY KEY(`ref`),
	CONSTRAINT `offline_payments_idempotency_key_unique` UNIQUE(`idempotency_key`)
);
--> statement-breakpoint
CREATE TABLE `offline_refunds` (
	`own` uuid NOT NULL,
	`ref` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`amount_minor` bigint NOT NULL,
	`done_at` datetime(3),
	CONSTRAINT `offline_refunds_own` PRIMARY KEY(`own`)
);
--> statement-breakpoint
DROP INDEX `payments_listed` ON `payments`;--> statement-breakpoint
ALTER TABLE `join_links` ADD `order_id` uuid;--> statement-breakpoint
ALTER TABLE `agreements` ADD `processor` varchar(8) DEFAULT 'card' NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `processor` varchar(8) DEFAULT 'card' NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `stood_by_at` datetime(3);--> statement-breakpoint
ALTER TABLE `payments` ADD `processor` varchar(8) DEFAULT 'card' NOT NULL;--> statement-breakpoint
ALTER TABLE `plans` ADD `pay_by` json;--> statement-breakpoint
ALTER TABLE `plans` ADD `is_open_at_once` boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `prices` ADD `name` varchar(80) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `prices` ADD `position` int DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `offline_refunds` ADD CONSTRAINT `offline_refunds_ref_offline_payments_ref_fk` FOREIGN KEY (`ref`) REFERENCES `offline_payments`(`ref`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `offline_refunds_ref` ON `offline_refunds` (`ref`);--> statement-breakpoint
CREATE INDEX `payments_listed` ON `payments` (`state`,`member_id`,`amount_minor`);--> statement-breakpoint
UPDATE `processor_cursors` SET `name` = 'card' WHERE `name` = 'processor';
