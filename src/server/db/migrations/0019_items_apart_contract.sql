ALTER TABLE `items` DROP INDEX `items_address_unique`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `title`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `description`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `target`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `shows_poster`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `body`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `cover_key`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `opens_in_browser`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `preset_id`;--> statement-breakpoint
ALTER TABLE `items` DROP COLUMN `deterrents`;