CREATE TABLE `disputes` (
	`id` uuid NOT NULL,
	`payment_id` uuid NOT NULL,
	`ref` varchar(100) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`amount_minor` bigint NOT NULL,
	`state` varchar(4) NOT NULL,
	`opened_at` datetime(3) NOT NULL,
	`closed_at` datetime(3),
	CONSTRAINT `disputes_id` PRIMARY KEY(`id`),
	CONSTRAINT `disputes_ref_unique` UNIQUE(`ref`)
);--> statement-breakpoint
CREATE TABLE `documents` (
	`id` uuid NOT NULL,
	`number` varchar(20) NOT NULL,
	`kind` varchar(12) NOT NULL,
	`source` varchar(60) NOT NULL,
	`payment_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`corrects` varchar(20),
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`content` json NOT NULL,
	`issued_at` datetime(3) NOT NULL,
	CONSTRAINT `documents_id` PRIMARY KEY(`id`),
	CONSTRAINT `documents_number_unique` UNIQUE(`number`),
	CONSTRAINT `documents_source_unique` UNIQUE(`source`)
);--> statement-breakpoint
CREATE TABLE `refunds` (
	`id` uuid NOT NULL,
	`payment_id` uuid NOT NULL,
	`ref` varchar(100) character set utf8mb4 collate utf8mb4_bin,
	`cause` varchar(8) NOT NULL,
	`amount_minor` bigint NOT NULL,
	`ends_access` boolean NOT NULL,
	`why` varchar(500),
	`actor_id` uuid,
	`asked_at` datetime(3) NOT NULL,
	`done_at` datetime(3),
	CONSTRAINT `refunds_id` PRIMARY KEY(`id`),
	CONSTRAINT `refunds_ref_unique` UNIQUE(`ref`)
);--> statement-breakpoint
ALTER TABLE `agreement_facts` MODIFY COLUMN `once_key` varchar(60);--> statement-breakpoint
ALTER TABLE `payments` ADD `refunded_minor` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `payments` ADD `dispute` varchar(4);--> statement-breakpoint
-- What went back was a state of its payment. Each refund and each dispute becomes a row, whose id is the payment's: there was one of each at most.
INSERT IGNORE INTO `refunds` (`id`, `payment_id`, `ref`, `cause`, `amount_minor`, `ends_access`, `asked_at`, `done_at`)
SELECT p.`id`, p.`id`, CONCAT(COALESCE(p.`processor_ref`, CAST(p.`id` AS CHAR)), '-refund'), 'asked', p.`amount_minor`, true, e.`at`, e.`at`
FROM `payments` p JOIN `ledger_entries` e ON e.`payment_id` = p.`id` AND e.`kind` = 'refund';--> statement-breakpoint
INSERT IGNORE INTO `disputes` (`id`, `payment_id`, `ref`, `amount_minor`, `state`, `opened_at`, `closed_at`)
SELECT p.`id`, p.`id`, CONCAT(COALESCE(p.`processor_ref`, CAST(p.`id` AS CHAR)), '-dispute'), p.`amount_minor`, IF(w.`id` IS NULL, 'open', 'won'), e.`at`, w.`at`
FROM `payments` p JOIN `ledger_entries` e ON e.`payment_id` = p.`id` AND e.`kind` = 'dispute'
LEFT JOIN `ledger_entries` w ON w.`payment_id` = p.`id` AND w.`kind` = 'won';--> statement-breakpoint
UPDATE `payments` p JOIN `refunds` r ON r.`id` = p.`id` SET p.`refunded_minor` = r.`amount_minor`;--> statement-breakpoint
UPDATE `payments` p JOIN `disputes` d ON d.`id` = p.`id` SET p.`dispute` = d.`state`;--> statement-breakpoint
UPDATE `payments` SET `state` = 'captured' WHERE `state` IN ('refunded', 'disputed', 'won');--> statement-breakpoint
ALTER TABLE `ledger_entries` ADD `source` varchar(60);--> statement-breakpoint
UPDATE `ledger_entries` SET `source` = CONCAT(`kind`, ':', `payment_id`) WHERE `source` IS NULL;--> statement-breakpoint
ALTER TABLE `ledger_entries` MODIFY `source` varchar(60) NOT NULL;--> statement-breakpoint
CREATE INDEX `ledger_entries_payment` ON `ledger_entries` (`payment_id`);--> statement-breakpoint
ALTER TABLE `ledger_entries` DROP INDEX `ledger_entries_once`;--> statement-breakpoint
ALTER TABLE `ledger_entries` ADD CONSTRAINT `ledger_entries_source_unique` UNIQUE(`source`);--> statement-breakpoint
-- A receipt for what came in, a credit note for what went back; their numbers stay.
INSERT IGNORE INTO `documents` (`id`, `number`, `kind`, `source`, `payment_id`, `member_id`, `corrects`, `amount_minor`, `currency`, `content`, `issued_at`)
SELECT r.`id`, r.`number`, IF(r.`kind` IN ('refund', 'dispute'), 'credit-note', 'receipt'), CONCAT(r.`kind`, ':', r.`payment_id`), r.`payment_id`, r.`member_id`,
	IF(r.`kind` IN ('refund', 'dispute'), paid.`number`, NULL), r.`amount_minor`, r.`currency`, r.`content`, r.`issued_at`
FROM `receipts` r LEFT JOIN `receipts` paid ON paid.`payment_id` = r.`payment_id` AND paid.`kind` = 'payment';--> statement-breakpoint
DROP TABLE `receipts`;--> statement-breakpoint
ALTER TABLE `disputes` ADD CONSTRAINT `disputes_payment_id_payments_id_fk` FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `documents` ADD CONSTRAINT `documents_payment_id_payments_id_fk` FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `refunds` ADD CONSTRAINT `refunds_payment_id_payments_id_fk` FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `disputes_payment` ON `disputes` (`payment_id`);--> statement-breakpoint
CREATE INDEX `disputes_state` ON `disputes` (`state`,`opened_at`);--> statement-breakpoint
CREATE INDEX `documents_payment` ON `documents` (`payment_id`);--> statement-breakpoint
CREATE INDEX `documents_member` ON `documents` (`member_id`);--> statement-breakpoint
CREATE INDEX `documents_corrects` ON `documents` (`corrects`);--> statement-breakpoint
CREATE INDEX `refunds_payment` ON `refunds` (`payment_id`);--> statement-breakpoint
ALTER TABLE `payments` DROP COLUMN `taken_back_at`;--> statement-breakpoint
CREATE TRIGGER documents_no_update BEFORE UPDATE ON documents FOR EACH ROW
IF NOT (NEW.id <=> OLD.id AND NEW.number <=> OLD.number AND NEW.kind <=> OLD.kind AND NEW.source <=> OLD.source AND NEW.payment_id <=> OLD.payment_id
	AND NEW.member_id <=> OLD.member_id AND NEW.corrects <=> OLD.corrects AND NEW.amount_minor <=> OLD.amount_minor AND NEW.currency <=> OLD.currency
	AND NEW.issued_at <=> OLD.issued_at
	AND JSON_COMPACT(JSON_REMOVE(NEW.content, '$.buyer')) <=> JSON_COMPACT(JSON_REMOVE(OLD.content, '$.buyer'))
	AND (JSON_VALUE(NEW.content, '$.buyer.name') = '' OR JSON_VALUE(NEW.content, '$.buyer.name') <=> JSON_VALUE(OLD.content, '$.buyer.name'))
	AND (JSON_VALUE(NEW.content, '$.buyer.email') = '' OR JSON_VALUE(NEW.content, '$.buyer.email') <=> JSON_VALUE(OLD.content, '$.buyer.email')))
THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A document is never changed'; END IF;--> statement-breakpoint
CREATE TRIGGER documents_no_delete BEFORE DELETE ON documents FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A document is never removed';
