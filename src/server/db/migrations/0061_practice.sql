CREATE TABLE `practice_cards` (
	`ref` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`kind` varchar(20) NOT NULL,
	`expires` char(7) NOT NULL,
	`works_for` int,
	`country` char(2),
	CONSTRAINT `practice_cards_ref` PRIMARY KEY(`ref`)
);
--> statement-breakpoint
CREATE TABLE `practice_mails` (
	`id` uuid NOT NULL,
	`mail_key` varchar(120) NOT NULL,
	`to_email` varchar(254) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`subject` varchar(400) NOT NULL,
	`text` longtext NOT NULL,
	`html` longtext NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `practice_mails_id` PRIMARY KEY(`id`),
	CONSTRAINT `practice_mails_mail_key_unique` UNIQUE(`mail_key`)
);
--> statement-breakpoint
CREATE TABLE `practice_payments` (
	`ref` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`idempotency_key` varchar(160) NOT NULL,
	`state` varchar(10) NOT NULL,
	`is_card_only` boolean NOT NULL,
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`text` varchar(300) NOT NULL,
	`statement_name` varchar(40) NOT NULL,
	`return_url` varchar(700),
	`card_ref` varchar(80) character set utf8mb4 collate utf8mb4_bin,
	`awaits` json,
	`refunds` json NOT NULL,
	`disputes` json NOT NULL,
	`expires_at` datetime(3),
	`created_at` datetime(3) NOT NULL,
	`settled_at` datetime(3),
	`changed_as` int NOT NULL,
	CONSTRAINT `practice_payments_ref` PRIMARY KEY(`ref`),
	CONSTRAINT `practice_payments_idempotency_key_unique` UNIQUE(`idempotency_key`)
);
--> statement-breakpoint
CREATE INDEX `practice_mails_at` ON `practice_mails` (`at`);--> statement-breakpoint
CREATE INDEX `practice_payments_changed` ON `practice_payments` (`changed_as`);