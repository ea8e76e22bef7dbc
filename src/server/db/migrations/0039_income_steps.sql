CREATE TABLE `income_steps` (
	`id` uuid NOT NULL,
	`agreement_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`from_plan_id` uuid,
	`currency` char(3) NOT NULL,
	`before_minor` bigint NOT NULL,
	`after_minor` bigint NOT NULL,
	`why` varchar(8) NOT NULL,
	`at` datetime(3) NOT NULL,
	`day` char(10) NOT NULL,
	CONSTRAINT `income_steps_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `agreements` ADD `is_income_kept` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `income_steps` ADD CONSTRAINT `income_steps_agreement_id_agreements_id_fk` FOREIGN KEY (`agreement_id`) REFERENCES `agreements`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `income_steps_agreement` ON `income_steps` (`agreement_id`);--> statement-breakpoint
CREATE INDEX `income_steps_member` ON `income_steps` (`member_id`);--> statement-breakpoint
CREATE INDEX `income_steps_day` ON `income_steps` (`day`,`currency`,`why`,`at`,`before_minor`,`after_minor`);--> statement-breakpoint
CREATE INDEX `agreements_income` ON `agreements` (`is_income_kept`);