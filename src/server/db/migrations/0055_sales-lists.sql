DROP INDEX `agreements_plan` ON `agreements`;--> statement-breakpoint
ALTER TABLE `plans` ADD `mailing_list` varchar(120);--> statement-breakpoint
CREATE INDEX `agreements_began` ON `agreements` (`anchor`);--> statement-breakpoint
CREATE INDEX `agreements_counted` ON `agreements` (`state`,`period_unit`);--> statement-breakpoint
CREATE INDEX `agreements_state` ON `agreements` (`state`,`anchor`);--> statement-breakpoint
CREATE INDEX `order_lines_plan` ON `order_lines` (`plan_id`);--> statement-breakpoint
CREATE INDEX `orders_listed` ON `orders` (`state`,`member_id`);--> statement-breakpoint
CREATE INDEX `agreements_plan` ON `agreements` (`plan_id`,`anchor`);