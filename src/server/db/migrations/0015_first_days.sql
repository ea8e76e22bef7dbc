ALTER TABLE `tenures` ADD `is_set_by_hand` boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX `redemptions_batch` ON `redemptions` (`batch_id`,`member_id`);--> statement-breakpoint
UPDATE `crossings` SET `limits` = JSON_SET(`limits`, '$.uses.per', 'grant') WHERE JSON_VALUE(`limits`, '$.uses.per') = 'purchase';--> statement-breakpoint
UPDATE `settings` SET `value` = JSON_SET(`value`, '$.limits.uses.per', 'grant') WHERE JSON_VALUE(`value`, '$.limits.uses.per') = 'purchase';--> statement-breakpoint
UPDATE `tenures` SET `is_set_by_hand` = true WHERE EXISTS (SELECT 1 FROM `audit` WHERE `audit`.`member_id` = `tenures`.`member_id` AND `audit`.`action` = 'set-first-day' AND JSON_VALUE(`audit`.`after_value`, '$.planId') = `tenures`.`plan_id`)
