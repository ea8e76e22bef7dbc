CREATE TABLE `half_sign_ins` (
	`token_hash` char(64) NOT NULL,
	`account_id` uuid NOT NULL,
	`begun_by` varchar(8) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	CONSTRAINT `half_sign_ins_token_hash` PRIMARY KEY(`token_hash`)
);
--> statement-breakpoint
CREATE TABLE `recovery_codes` (
	`account_id` uuid NOT NULL,
	`code_hash` char(64) NOT NULL,
	CONSTRAINT `recovery_codes_account_id_code_hash_pk` PRIMARY KEY(`account_id`,`code_hash`)
);
--> statement-breakpoint
CREATE TABLE `second_factors` (
	`account_id` uuid NOT NULL,
	`key_id` varchar(40) NOT NULL,
	`sealed` varchar(200) NOT NULL,
	`since` datetime(3) NOT NULL,
	`last_step` int NOT NULL,
	CONSTRAINT `second_factors_account_id` PRIMARY KEY(`account_id`)
);
--> statement-breakpoint
ALTER TABLE `half_sign_ins` ADD CONSTRAINT `half_sign_ins_account_id_accounts_id_fk` FOREIGN KEY (`account_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `recovery_codes` ADD CONSTRAINT `recovery_codes_account_id_accounts_id_fk` FOREIGN KEY (`account_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `second_factors` ADD CONSTRAINT `second_factors_account_id_accounts_id_fk` FOREIGN KEY (`account_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `half_sign_ins_account` ON `half_sign_ins` (`account_id`);--> statement-breakpoint
CREATE INDEX `half_sign_ins_end` ON `half_sign_ins` (`expires_at`);