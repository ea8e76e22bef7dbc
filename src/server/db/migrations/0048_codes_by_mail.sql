ALTER TABLE `redemptions` ADD `until` datetime(3);--> statement-breakpoint
ALTER TABLE `join_links` ADD `redemption_id` uuid;--> statement-breakpoint
ALTER TABLE `sign_in_links` ADD `redemption_id` uuid;