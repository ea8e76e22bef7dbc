CREATE INDEX `use_gifts_item` ON `use_gifts` (`item_id`);--> statement-breakpoint
CREATE INDEX `uses_item` ON `uses` (`item_id`,`at`);--> statement-breakpoint
CREATE INDEX `items_state` ON `items` (`state`);--> statement-breakpoint
CREATE INDEX `accounts_listed` ON `accounts` (`role`,`deleted_at`,`created_at`);--> statement-breakpoint
CREATE INDEX `sessions_end` ON `sessions` (`expires_at`);--> statement-breakpoint
CREATE INDEX `jobs_kind` ON `jobs` (`kind`);--> statement-breakpoint
CREATE INDEX `orders_email` ON `orders` (`email`);--> statement-breakpoint
CREATE INDEX `payments_listed` ON `payments` (`state`,`member_id`);--> statement-breakpoint
CREATE INDEX `subscriptions_grant` ON `subscriptions` (`grant_id`);