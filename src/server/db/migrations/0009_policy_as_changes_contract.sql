DROP INDEX `rights_changes_value` ON `rights_changes`;--> statement-breakpoint
ALTER TABLE `rights_changes` DROP COLUMN `value`;