CREATE TABLE `order_claims` (
	`id` uuid NOT NULL,
	`claim_key` varchar(80) NOT NULL,
	`order_id` uuid NOT NULL,
	CONSTRAINT `order_claims_id` PRIMARY KEY(`id`),
	CONSTRAINT `order_claims_once` UNIQUE(`claim_key`)
);
--> statement-breakpoint
ALTER TABLE `orders` DROP INDEX `orders_open_key_unique`;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `position` int DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `discount` json;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `agreement_id` uuid;--> statement-breakpoint
ALTER TABLE `refunds` ADD `line_id` uuid;--> statement-breakpoint
ALTER TABLE `order_claims` ADD CONSTRAINT `order_claims_order_id_orders_id_fk` FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `order_claims_order` ON `order_claims` (`order_id`);--> statement-breakpoint
CREATE INDEX `order_lines_agreement` ON `order_lines` (`agreement_id`);--> statement-breakpoint
INSERT IGNORE INTO `order_claims` (`id`, `claim_key`, `order_id`)
SELECT UUID(), IF(`o`.`member_id` IS NOT NULL AND `o`.`open_key` = CONCAT(`o`.`member_id`, ':', `l`.`plan_id`), CONCAT(`o`.`member_id`, ':', COALESCE(`p`.`ladder_id`, `p`.`id`)), `o`.`open_key`), `o`.`id`
FROM `orders` `o`
JOIN `order_lines` `l` ON `l`.`order_id` = `o`.`id` AND `l`.`kind` <> 'fee'
JOIN `plans` `p` ON `p`.`id` = `l`.`plan_id`
WHERE `o`.`open_key` IS NOT NULL
ORDER BY `o`.`created_at` DESC;--> statement-breakpoint
UPDATE `order_lines` `l` JOIN `orders` `o` ON `o`.`id` = `l`.`order_id` SET `l`.`discount` = `o`.`discount` WHERE `l`.`kind` <> 'fee' AND `o`.`discount` IS NOT NULL;--> statement-breakpoint
UPDATE `order_lines` `l` JOIN `agreements` `a` ON `a`.`order_line_id` = `l`.`id` SET `l`.`agreement_id` = `a`.`id`;--> statement-breakpoint
UPDATE `order_lines` `l` JOIN `payments` `p` ON `p`.`order_id` = `l`.`order_id` JOIN `agreements` `a` ON `a`.`id` = `p`.`agreement_id` SET `l`.`agreement_id` = `a`.`id` WHERE `l`.`agreement_id` IS NULL AND `l`.`kind` <> 'fee';--> statement-breakpoint
ALTER TABLE `orders` DROP COLUMN `discount`;--> statement-breakpoint
ALTER TABLE `orders` DROP COLUMN `open_key`;