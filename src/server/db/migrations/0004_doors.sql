CREATE TABLE `once_keys` (
	`once_key` varchar(160) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `once_keys_once_key` PRIMARY KEY(`once_key`)
);
--> statement-breakpoint
CREATE TABLE `processor_cursors` (
	`name` varchar(40) NOT NULL,
	`cursor_text` varchar(200) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	CONSTRAINT `processor_cursors_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
ALTER TABLE `notifications` MODIFY COLUMN `event_id` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `notifications` MODIFY COLUMN `payment_ref` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` MODIFY COLUMN `member_id` uuid;--> statement-breakpoint
ALTER TABLE `payments` MODIFY COLUMN `member_id` uuid;--> statement-breakpoint
ALTER TABLE `payments` MODIFY COLUMN `processor_ref` varchar(80) character set utf8mb4 collate utf8mb4_bin;--> statement-breakpoint
ALTER TABLE `accounts` ADD `proved_at` datetime(3);--> statement-breakpoint
ALTER TABLE `accounts` ADD `claimed_by_order_id` uuid;--> statement-breakpoint
ALTER TABLE `accounts` ADD `is_name_typed` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `jobs` ADD `member_id` uuid;--> statement-breakpoint
ALTER TABLE `orders` ADD `email` varchar(254) character set utf8mb4 collate utf8mb4_bin;--> statement-breakpoint
ALTER TABLE `orders` ADD `signed_in_at` datetime(3);--> statement-breakpoint
CREATE INDEX `once_keys_at` ON `once_keys` (`at`);--> statement-breakpoint
CREATE INDEX `jobs_member` ON `jobs` (`member_id`);--> statement-breakpoint
CREATE INDEX `jobs_state` ON `jobs` (`state`,`created_at`);--> statement-breakpoint
CREATE INDEX `orders_state` ON `orders` (`state`,`created_at`);--> statement-breakpoint
CREATE INDEX `payments_state` ON `payments` (`state`,`id`);--> statement-breakpoint
UPDATE `accounts` SET `proved_at` = `claimed_at` WHERE `proved_at` IS NULL AND `claimed_at` IS NOT NULL AND (`role` = 'owner' OR EXISTS (SELECT 1 FROM `sign_in_links` l WHERE l.`account_id` = `accounts`.`id` AND l.`used_at` IS NOT NULL));--> statement-breakpoint
INSERT IGNORE INTO `once_keys` (`once_key`, `at`) SELECT `job_key`, `created_at` FROM `jobs` WHERE `job_key` IS NOT NULL AND `kind` <> 'prepare';--> statement-breakpoint
UPDATE `jobs` SET `subject_id` = JSON_VALUE(`payload`, '$.subscriptionId') WHERE `kind` IN ('charge', 'subscription-event') AND `subject_id` IS NULL AND JSON_VALUE(`payload`, '$.subscriptionId') IS NOT NULL;--> statement-breakpoint
UPDATE `jobs` SET `state` = 'failed', `problem` = 'This mail was written by an earlier version of Stile and was not sent.', `payload` = '{}' WHERE `kind` = 'mail' AND `state` IN ('waiting', 'running', 'failed');--> statement-breakpoint
UPDATE `jobs` SET `payload` = '{}' WHERE `state` = 'done';--> statement-breakpoint
UPDATE `orders` o JOIN `accounts` a ON a.`id` = o.`member_id` SET o.`email` = a.`email`, o.`member_id` = NULL, o.`open_key` = NULL, o.`state` = IF(o.`state` = 'open', 'expired', o.`state`) WHERE o.`state` IN ('open', 'replaced') AND a.`claimed_at` IS NULL AND a.`role` = 'member' AND o.`paid_at` IS NULL AND NOT EXISTS (SELECT 1 FROM `payments` p WHERE p.`order_id` = o.`id` AND p.`state` NOT IN ('pending', 'declined'));--> statement-breakpoint
UPDATE `payments` p JOIN `orders` o ON o.`id` = p.`order_id` SET p.`member_id` = NULL WHERE o.`member_id` IS NULL;--> statement-breakpoint
DELETE FROM `accounts` WHERE `claimed_at` IS NULL AND `role` = 'member' AND `email` IS NOT NULL AND NOT EXISTS (SELECT 1 FROM `orders` o WHERE o.`member_id` = `accounts`.`id`) AND NOT EXISTS (SELECT 1 FROM `grants` g WHERE g.`member_id` = `accounts`.`id`) AND NOT EXISTS (SELECT 1 FROM `sign_in_links` l WHERE l.`account_id` = `accounts`.`id`) AND NOT EXISTS (SELECT 1 FROM `tenures` t WHERE t.`member_id` = `accounts`.`id`) AND NOT EXISTS (SELECT 1 FROM `sessions` s WHERE s.`account_id` = `accounts`.`id`) AND NOT EXISTS (SELECT 1 FROM `subscriptions` s WHERE s.`member_id` = `accounts`.`id`) AND NOT EXISTS (SELECT 1 FROM `audit` u WHERE u.`member_id` = `accounts`.`id` AND u.`action` = 'added-member');--> statement-breakpoint
UPDATE `orders` SET `typed_password_hash` = NULL WHERE `state` <> 'open';
