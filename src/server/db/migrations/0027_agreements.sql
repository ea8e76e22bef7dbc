ALTER TABLE `plans` ADD `access` json DEFAULT ('{"kind":"while-paid"}') NOT NULL;--> statement-breakpoint
-- A price was an amount by the month or year; it becomes terms. The guard lets none be changed, so it stands aside.
ALTER TABLE `price_versions` ADD `terms` json;--> statement-breakpoint
DROP TRIGGER IF EXISTS price_versions_no_update;--> statement-breakpoint
UPDATE `price_versions` SET `terms` = JSON_OBJECT('currency', currency, 'firstMinor', amount_minor, 'feeMinor', 0, 'then', JSON_OBJECT('kind', 'more', 'times', NULL, 'amountMinor', amount_minor, 'every', JSON_OBJECT('count', period_count, 'unit', period_unit), 'firstLasts', NULL)) WHERE `terms` IS NULL;--> statement-breakpoint
ALTER TABLE `price_versions` MODIFY `terms` json NOT NULL;--> statement-breakpoint
CREATE TRIGGER price_versions_no_update BEFORE UPDATE ON price_versions FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A price version is never changed';--> statement-breakpoint
ALTER TABLE `order_lines` ADD `kind` varchar(8) DEFAULT 'plan' NOT NULL;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `text` varchar(200) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `discount_minor` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `tax_minor` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `total_minor` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `order_lines` JOIN `plans` ON `plans`.`id` = `order_lines`.`plan_id` SET `order_lines`.`text` = `plans`.`name`, `order_lines`.`total_minor` = `order_lines`.`amount_minor`;--> statement-breakpoint
ALTER TABLE `order_lines` ALTER `text` DROP DEFAULT, ALTER `total_minor` DROP DEFAULT;--> statement-breakpoint
CREATE TABLE `agreement_facts` (
	`id` uuid NOT NULL,
	`agreement_id` uuid NOT NULL,
	`at` datetime(3) NOT NULL,
	`heard_at` datetime(3) NOT NULL,
	`fact` json NOT NULL,
	`once_key` varchar(40),
	CONSTRAINT `agreement_facts_id` PRIMARY KEY(`id`),
	CONSTRAINT `agreement_facts_once` UNIQUE(`agreement_id`,`once_key`)
);--> statement-breakpoint
CREATE TABLE `agreements` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`order_line_id` uuid NOT NULL,
	`price_version_id` uuid NOT NULL,
	`agreed` json NOT NULL,
	`period_unit` varchar(6),
	`period_count` int,
	`grant_id` uuid NOT NULL,
	`beginning` json,
	`card_ref` varchar(80),
	`anchor` datetime(3) NOT NULL,
	`zone` varchar(60) NOT NULL,
	`state` varchar(10) NOT NULL,
	`period` int NOT NULL,
	`attempt` int NOT NULL,
	`paid_through` datetime(3),
	`next_at` datetime(3),
	`next_minor` bigint,
	`end_reason` varchar(10),
	`ended_at` datetime(3),
	`cancelled_at` datetime(3),
	`cancel_why` varchar(20),
	`cancel_words` varchar(1000),
	CONSTRAINT `agreements_id` PRIMARY KEY(`id`),
	CONSTRAINT `agreements_order_line_id_unique` UNIQUE(`order_line_id`)
);--> statement-breakpoint
-- The end of what is paid is worked out to the hour when an agreement next moves; until then it stands as the calendar of UTC has it.
INSERT IGNORE INTO `agreements` (`id`, `member_id`, `plan_id`, `order_line_id`, `price_version_id`, `agreed`, `period_unit`, `period_count`, `grant_id`, `beginning`, `card_ref`, `anchor`, `zone`, `state`, `period`, `attempt`, `paid_through`, `next_at`, `next_minor`, `end_reason`, `ended_at`, `cancelled_at`, `cancel_why`, `cancel_words`)
SELECT s.`id`, s.`member_id`, s.`plan_id`, s.`order_line_id`, s.`price_version_id`, JSON_OBJECT('planId', s.`plan_id`, 'terms', JSON_EXTRACT(v.`terms`, '$'), 'access', JSON_OBJECT('kind', 'while-paid')), v.`period_unit`, v.`period_count`, s.`grant_id`,
	CASE
		WHEN JSON_VALUE(s.`beginning`, '$.state.kind') = 'active' THEN JSON_SET(s.`beginning`, '$.state.kind', 'running')
		WHEN JSON_VALUE(s.`beginning`, '$.state.kind') = 'renewing' AND JSON_VALUE(s.`beginning`, '$.state.attempt') > 1 THEN JSON_SET(s.`beginning`, '$.state.kind', 'owing', '$.state.hasAccess', JSON_EXTRACT('true', '$'))
		ELSE s.`beginning`
	END,
	s.`card_ref`, s.`anchor`, s.`zone`,
	CASE WHEN s.`state` = 'active' THEN 'running' WHEN s.`state` = 'renewing' AND s.`attempt` > 1 THEN 'owing' ELSE s.`state` END,
	s.`period`, s.`attempt`,
	CASE v.`period_unit`
		WHEN 'month' THEN s.`anchor` + INTERVAL (s.`period` + (s.`state` <> 'renewing')) * v.`period_count` MONTH
		ELSE s.`anchor` + INTERVAL (s.`period` + (s.`state` <> 'renewing')) * v.`period_count` YEAR
	END,
	CASE WHEN s.`state` <> 'active' THEN NULL WHEN v.`period_unit` = 'month' THEN s.`anchor` + INTERVAL (s.`period` + 1) * v.`period_count` MONTH ELSE s.`anchor` + INTERVAL (s.`period` + 1) * v.`period_count` YEAR END,
	CASE WHEN s.`state` = 'active' THEN v.`amount_minor` END,
	s.`end_reason`, s.`ended_at`, s.`cancelled_at`, s.`cancel_why`, s.`cancel_words`
FROM `subscriptions` s JOIN `price_versions` v ON v.`id` = s.`price_version_id`;--> statement-breakpoint
INSERT IGNORE INTO `agreement_facts` (`id`, `agreement_id`, `at`, `heard_at`, `fact`, `once_key`)
SELECT `id`, `subscription_id`, `at`, `heard_at`, `fact`, `once_key` FROM `subscription_facts`;--> statement-breakpoint
ALTER TABLE `agreement_facts` ADD CONSTRAINT `agreement_facts_agreement_id_agreements_id_fk` FOREIGN KEY (`agreement_id`) REFERENCES `agreements`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `agreements` ADD CONSTRAINT `agreements_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `agreements_member` ON `agreements` (`member_id`);--> statement-breakpoint
CREATE INDEX `agreements_plan` ON `agreements` (`plan_id`);--> statement-breakpoint
CREATE INDEX `agreements_grant` ON `agreements` (`grant_id`);--> statement-breakpoint
ALTER TABLE `payments` ADD `agreement_id` uuid;--> statement-breakpoint
UPDATE `payments` SET `agreement_id` = `subscription_id`;--> statement-breakpoint
UPDATE `jobs` SET `payload` = JSON_REMOVE(JSON_SET(`payload`, '$.agreementId', JSON_VALUE(`payload`, '$.subscriptionId')), '$.subscriptionId') WHERE JSON_EXISTS(`payload`, '$.subscriptionId');--> statement-breakpoint
UPDATE `jobs` SET `kind` = 'agreement-event' WHERE `kind` = 'subscription-event';