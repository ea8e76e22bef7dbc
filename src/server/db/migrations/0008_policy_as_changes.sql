CREATE TABLE `policy_bases` (
	`version` bigint NOT NULL,
	`part` int NOT NULL,
	`at` datetime(3) NOT NULL,
	`bytes` mediumblob NOT NULL,
	CONSTRAINT `policy_bases_version_part_pk` PRIMARY KEY(`version`,`part`)
);
--> statement-breakpoint
CREATE TABLE `policy_changes` (
	`version` bigint NOT NULL,
	`at` datetime(3) NOT NULL,
	`cause` varchar(60) NOT NULL,
	`actor_id` uuid,
	`delta` json NOT NULL,
	CONSTRAINT `policy_changes_version` PRIMARY KEY(`version`)
);
--> statement-breakpoint
CREATE TABLE `rehearsals` (
	`id` uuid NOT NULL,
	`at` datetime(3) NOT NULL,
	`version` bigint NOT NULL,
	`digest` char(64) NOT NULL,
	`minted_at` datetime(3) NOT NULL,
	`result` mediumblob,
	CONSTRAINT `rehearsals_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
DELETE FROM `rights_changes`;--> statement-breakpoint
ALTER TABLE `rights_changes` ADD `id` bigint AUTO_INCREMENT NOT NULL PRIMARY KEY;--> statement-breakpoint
ALTER TABLE `rights_changes` ADD `kind` varchar(10) NOT NULL;--> statement-breakpoint
ALTER TABLE `rights_changes` ADD `at` datetime(3) NOT NULL;--> statement-breakpoint
CREATE INDEX `policy_changes_at` ON `policy_changes` (`at`);--> statement-breakpoint
CREATE INDEX `rehearsals_at` ON `rehearsals` (`at`);--> statement-breakpoint
CREATE INDEX `rights_changes_at` ON `rights_changes` (`at`);--> statement-breakpoint
CREATE TRIGGER policy_changes_no_update BEFORE UPDATE ON policy_changes FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'A policy change is never changed';--> statement-breakpoint
UPDATE `rights_counter` SET `value` = (SELECT COALESCE(MAX(`version`), 0) FROM `policy_versions`);
