ALTER TABLE `payments` DROP COLUMN `subscription_id`;--> statement-breakpoint
ALTER TABLE `price_versions` DROP COLUMN `amount_minor`;--> statement-breakpoint
ALTER TABLE `price_versions` DROP COLUMN `currency`;--> statement-breakpoint
ALTER TABLE `price_versions` DROP COLUMN `period_unit`;--> statement-breakpoint
ALTER TABLE `price_versions` DROP COLUMN `period_count`;--> statement-breakpoint
DROP TABLE `subscription_facts`;--> statement-breakpoint
DROP TABLE `subscriptions`;
