CREATE TABLE `namings` (
	`crossing_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`since` datetime(3) NOT NULL,
	CONSTRAINT `namings_crossing_id_member_id_pk` PRIMARY KEY(`crossing_id`,`member_id`)
);
--> statement-breakpoint
ALTER TABLE `namings` ADD CONSTRAINT `namings_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `namings_member` ON `namings` (`member_id`);--> statement-breakpoint
INSERT IGNORE INTO `namings` (`crossing_id`, `member_id`, `since`) SELECT `crossings`.`id`, `named`.`member_id`, from_unixtime(`named`.`since` / 1000) FROM `crossings`, json_table(`crossings`.`audience`, '$.members[*]' COLUMNS (`member_id` varchar(36) PATH '$.memberId', `since` bigint PATH '$.since')) AS `named` INNER JOIN `accounts` ON `accounts`.`id` = `named`.`member_id` WHERE json_value(`crossings`.`audience`, '$.kind') = 'named';
