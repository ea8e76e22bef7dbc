CREATE TABLE `code_batches` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`plan_id` uuid,
	`days` int,
	`starts_at` datetime(3),
	`ends_at` datetime(3),
	`uses_per_code` int,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `code_batches_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `codes` (
	`id` uuid NOT NULL,
	`batch_id` uuid NOT NULL,
	`code` varchar(40) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`uses` int NOT NULL DEFAULT 0,
	CONSTRAINT `codes_id` PRIMARY KEY(`id`),
	CONSTRAINT `codes_code_unique` UNIQUE(`code`)
);
--> statement-breakpoint
CREATE TABLE `crossings` (
	`id` uuid NOT NULL,
	`fence_id` uuid NOT NULL,
	`position` int NOT NULL,
	`audience` json NOT NULL,
	`access_window` json,
	`limits` json NOT NULL,
	`is_throughout` boolean NOT NULL,
	CONSTRAINT `crossings_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `fences` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`is_on` boolean NOT NULL,
	`mode` varchar(10) NOT NULL,
	`selector` json NOT NULL,
	`turn_away` json,
	`listing` varchar(8) NOT NULL,
	`revision` int NOT NULL DEFAULT 1,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `fences_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `grants` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`from_at` datetime(3) NOT NULL,
	`until_at` datetime(3),
	`revoked_at` datetime(3),
	`source` varchar(12) NOT NULL,
	`order_line_id` uuid,
	CONSTRAINT `grants_id` PRIMARY KEY(`id`),
	CONSTRAINT `grants_order_line_id_unique` UNIQUE(`order_line_id`)
);
--> statement-breakpoint
CREATE TABLE `policy_versions` (
	`version` bigint AUTO_INCREMENT NOT NULL,
	`at` datetime(3) NOT NULL,
	`cause` varchar(60) NOT NULL,
	`source` json NOT NULL,
	CONSTRAINT `policy_versions_version` PRIMARY KEY(`version`)
);
--> statement-breakpoint
CREATE TABLE `redemptions` (
	`id` uuid NOT NULL,
	`batch_id` uuid NOT NULL,
	`code_id` uuid NOT NULL,
	`member_id` uuid,
	`device_hash` char(64),
	`at` datetime(3) NOT NULL,
	CONSTRAINT `redemptions_id` PRIMARY KEY(`id`),
	CONSTRAINT `redemptions_once_member` UNIQUE(`code_id`,`member_id`),
	CONSTRAINT `redemptions_once_device` UNIQUE(`code_id`,`device_hash`)
);
--> statement-breakpoint
CREATE TABLE `releases` (
	`id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`target_kind` varchar(10) NOT NULL,
	`target_id` uuid NOT NULL,
	`access_window` json NOT NULL,
	CONSTRAINT `releases_id` PRIMARY KEY(`id`),
	CONSTRAINT `releases_once` UNIQUE(`plan_id`,`target_kind`,`target_id`)
);
--> statement-breakpoint
CREATE TABLE `rights_changes` (
	`value` bigint NOT NULL,
	`member_id` uuid
);
--> statement-breakpoint
CREATE TABLE `rights_counter` (
	`id` int NOT NULL,
	`value` bigint NOT NULL,
	CONSTRAINT `rights_counter_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `tenures` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`first_joined_at` datetime(3) NOT NULL,
	CONSTRAINT `tenures_id` PRIMARY KEY(`id`),
	CONSTRAINT `tenures_once` UNIQUE(`member_id`,`plan_id`)
);
--> statement-breakpoint
CREATE TABLE `uses` (
	`id` uuid NOT NULL,
	`item_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`grant_id` uuid,
	`at` datetime(3) NOT NULL,
	`goes_on_until` datetime(3) NOT NULL,
	CONSTRAINT `uses_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `assets` (
	`id` uuid NOT NULL,
	`kind` varchar(10) NOT NULL,
	`file_name` varchar(255) NOT NULL,
	`original_key` varchar(200) NOT NULL,
	`bytes` bigint NOT NULL,
	`seconds` int NOT NULL,
	`width` int NOT NULL,
	`height` int NOT NULL,
	`has_sound` boolean NOT NULL,
	`state` varchar(10) NOT NULL,
	`problem` varchar(500),
	`version` int NOT NULL DEFAULT 0,
	`stream` json,
	`wrapped_secret` varchar(200),
	`secret_key_id` varchar(40),
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `assets_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `categories` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`slug` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	CONSTRAINT `categories_id` PRIMARY KEY(`id`),
	CONSTRAINT `categories_slug_unique` UNIQUE(`slug`)
);
--> statement-breakpoint
CREATE TABLE `item_tags` (
	`item_id` uuid NOT NULL,
	`tag_id` uuid NOT NULL,
	CONSTRAINT `item_tags_item_id_tag_id_pk` PRIMARY KEY(`item_id`,`tag_id`)
);
--> statement-breakpoint
CREATE TABLE `items` (
	`id` uuid NOT NULL,
	`kind` varchar(10) NOT NULL,
	`title` varchar(200) NOT NULL,
	`description` text NOT NULL,
	`address` varchar(700) character set utf8mb4 collate utf8mb4_bin,
	`state` varchar(10) NOT NULL,
	`publish_at` datetime(3),
	`base` varchar(6) NOT NULL,
	`home_id` uuid,
	`position` int NOT NULL DEFAULT 0,
	`category_id` uuid,
	`extension` varchar(16),
	`target` varchar(2000),
	`shows_poster` boolean NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`changed_at` datetime(3) NOT NULL,
	CONSTRAINT `items_id` PRIMARY KEY(`id`),
	CONSTRAINT `items_address_unique` UNIQUE(`address`)
);
--> statement-breakpoint
CREATE TABLE `placements` (
	`id` uuid NOT NULL,
	`item_id` uuid NOT NULL,
	`asset_id` uuid NOT NULL,
	CONSTRAINT `placements_id` PRIMARY KEY(`id`),
	CONSTRAINT `placements_once` UNIQUE(`item_id`,`asset_id`)
);
--> statement-breakpoint
CREATE TABLE `tags` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`slug` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	CONSTRAINT `tags_id` PRIMARY KEY(`id`),
	CONSTRAINT `tags_slug_unique` UNIQUE(`slug`)
);
--> statement-breakpoint
CREATE TABLE `accounts` (
	`id` uuid NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin,
	`name` varchar(120) NOT NULL,
	`role` varchar(10) NOT NULL,
	`password_hash` varchar(200),
	`epoch` int NOT NULL DEFAULT 0,
	`claimed_at` datetime(3),
	`created_at` datetime(3) NOT NULL,
	`deleted_at` datetime(3),
	CONSTRAINT `accounts_id` PRIMARY KEY(`id`),
	CONSTRAINT `accounts_email_unique` UNIQUE(`email`)
);
--> statement-breakpoint
CREATE TABLE `owner_tokens` (
	`token_hash` char(64) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `owner_tokens_token_hash` PRIMARY KEY(`token_hash`)
);
--> statement-breakpoint
CREATE TABLE `rate_limits` (
	`bucket` varchar(160) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`window_end` datetime(3) NOT NULL,
	`count` int NOT NULL,
	CONSTRAINT `rate_limits_bucket` PRIMARY KEY(`bucket`)
);
--> statement-breakpoint
CREATE TABLE `sessions` (
	`token_hash` char(64) NOT NULL,
	`account_id` uuid NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	CONSTRAINT `sessions_token_hash` PRIMARY KEY(`token_hash`)
);
--> statement-breakpoint
CREATE TABLE `sign_in_links` (
	`token_hash` char(64) NOT NULL,
	`account_id` uuid NOT NULL,
	`next` varchar(700) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `sign_in_links_token_hash` PRIMARY KEY(`token_hash`)
);
--> statement-breakpoint
CREATE TABLE `api_keys` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`key_hash` char(64) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`revoked_at` datetime(3),
	CONSTRAINT `api_keys_id` PRIMARY KEY(`id`),
	CONSTRAINT `api_keys_key_hash_unique` UNIQUE(`key_hash`)
);
--> statement-breakpoint
CREATE TABLE `audit` (
	`id` uuid NOT NULL,
	`wall_at` datetime(3) NOT NULL,
	`business_at` datetime(3) NOT NULL,
	`actor_id` uuid,
	`action` varchar(40) NOT NULL,
	`subject_kind` varchar(20) NOT NULL,
	`subject_id` uuid NOT NULL,
	`member_id` uuid,
	`before_value` json,
	`after_value` json,
	`why` varchar(1000),
	CONSTRAINT `audit_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `business_clock` (
	`id` int NOT NULL,
	`offset_ms` bigint NOT NULL,
	CONSTRAINT `business_clock_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` uuid NOT NULL,
	`queue` varchar(10) NOT NULL,
	`kind` varchar(30) NOT NULL,
	`job_key` varchar(160),
	`payload` json NOT NULL,
	`run_at` datetime(3) NOT NULL,
	`state` varchar(8) NOT NULL,
	`lease_token` char(36),
	`lease_until` datetime(3),
	`attempts` int NOT NULL DEFAULT 0,
	`progress` int NOT NULL DEFAULT 0,
	`problem` varchar(500),
	`subject_id` uuid,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `jobs_id` PRIMARY KEY(`id`),
	CONSTRAINT `jobs_job_key_unique` UNIQUE(`job_key`)
);
--> statement-breakpoint
CREATE TABLE `settings` (
	`id` int NOT NULL,
	`value` json NOT NULL,
	CONSTRAINT `settings_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `ladders` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	CONSTRAINT `ladders_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `ledger_entries` (
	`id` uuid NOT NULL,
	`at` datetime(3) NOT NULL,
	`kind` varchar(10) NOT NULL,
	`payment_id` uuid NOT NULL,
	CONSTRAINT `ledger_entries_id` PRIMARY KEY(`id`),
	CONSTRAINT `ledger_entries_once` UNIQUE(`payment_id`,`kind`)
);
--> statement-breakpoint
CREATE TABLE `ledger_postings` (
	`id` uuid NOT NULL,
	`entry_id` uuid NOT NULL,
	`account` varchar(12) NOT NULL,
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	CONSTRAINT `ledger_postings_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `notifications` (
	`event_id` varchar(80) NOT NULL,
	`payment_ref` varchar(80) NOT NULL,
	`received_at` datetime(3) NOT NULL,
	CONSTRAINT `notifications_event_id` PRIMARY KEY(`event_id`)
);
--> statement-breakpoint
CREATE TABLE `number_series` (
	`series` varchar(20) NOT NULL,
	`last` int NOT NULL,
	CONSTRAINT `number_series_series` PRIMARY KEY(`series`)
);
--> statement-breakpoint
CREATE TABLE `order_lines` (
	`id` uuid NOT NULL,
	`order_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`price_version_id` uuid NOT NULL,
	`amount_minor` bigint NOT NULL,
	CONSTRAINT `order_lines_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `orders` (
	`id` uuid NOT NULL,
	`number` varchar(20) NOT NULL,
	`member_id` uuid NOT NULL,
	`state` varchar(10) NOT NULL,
	`total_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`open_key` varchar(80),
	`device_hash` char(64) NOT NULL,
	`signs_in` boolean NOT NULL,
	`typed_name` varchar(120),
	`typed_password_hash` varchar(200),
	`next` varchar(700),
	`created_at` datetime(3) NOT NULL,
	`paid_at` datetime(3),
	CONSTRAINT `orders_id` PRIMARY KEY(`id`),
	CONSTRAINT `orders_number_unique` UNIQUE(`number`),
	CONSTRAINT `orders_open_key_unique` UNIQUE(`open_key`)
);
--> statement-breakpoint
CREATE TABLE `payments` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`order_id` uuid NOT NULL,
	`subscription_id` uuid,
	`period` int NOT NULL,
	`attempt` int NOT NULL,
	`idempotency_key` varchar(120) NOT NULL,
	`processor_ref` varchar(80),
	`pay_url` varchar(500),
	`state` varchar(10) NOT NULL,
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`settled_at` datetime(3),
	`taken_back_at` datetime(3),
	CONSTRAINT `payments_id` PRIMARY KEY(`id`),
	CONSTRAINT `payments_idempotency_key_unique` UNIQUE(`idempotency_key`),
	CONSTRAINT `payments_processor_ref_unique` UNIQUE(`processor_ref`)
);
--> statement-breakpoint
CREATE TABLE `plans` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`slug` varchar(80) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`lines` json NOT NULL,
	`is_public` boolean NOT NULL,
	`is_on_sale` boolean NOT NULL,
	`after_lapse` varchar(12) NOT NULL,
	`ladder_id` uuid,
	`rung` int NOT NULL DEFAULT 0,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `plans_id` PRIMARY KEY(`id`),
	CONSTRAINT `plans_slug_unique` UNIQUE(`slug`)
);
--> statement-breakpoint
CREATE TABLE `price_versions` (
	`id` uuid NOT NULL,
	`price_id` uuid NOT NULL,
	`version` int NOT NULL,
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`period_unit` varchar(6) NOT NULL,
	`period_count` int NOT NULL,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `price_versions_id` PRIMARY KEY(`id`),
	CONSTRAINT `price_versions_once` UNIQUE(`price_id`,`version`)
);
--> statement-breakpoint
CREATE TABLE `prices` (
	`id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`is_on_sale` boolean NOT NULL,
	CONSTRAINT `prices_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `receipts` (
	`id` uuid NOT NULL,
	`number` varchar(20) NOT NULL,
	`kind` varchar(10) NOT NULL,
	`payment_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`amount_minor` bigint NOT NULL,
	`currency` char(3) NOT NULL,
	`content` json NOT NULL,
	`issued_at` datetime(3) NOT NULL,
	CONSTRAINT `receipts_id` PRIMARY KEY(`id`),
	CONSTRAINT `receipts_number_unique` UNIQUE(`number`),
	CONSTRAINT `receipts_once` UNIQUE(`payment_id`,`kind`)
);
--> statement-breakpoint
CREATE TABLE `subscriptions` (
	`id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`plan_id` uuid NOT NULL,
	`order_line_id` uuid NOT NULL,
	`price_version_id` uuid NOT NULL,
	`grant_id` uuid NOT NULL,
	`card_ref` varchar(80) NOT NULL,
	`anchor` datetime(3) NOT NULL,
	`zone` varchar(60) NOT NULL,
	`state` varchar(10) NOT NULL,
	`period` int NOT NULL,
	`attempt` int NOT NULL,
	`end_reason` varchar(10),
	`ended_at` datetime(3),
	`cancelled_at` datetime(3),
	`cancel_why` varchar(20),
	`cancel_words` varchar(1000),
	CONSTRAINT `subscriptions_id` PRIMARY KEY(`id`),
	CONSTRAINT `subscriptions_order_line_id_unique` UNIQUE(`order_line_id`)
);
--> statement-breakpoint
ALTER TABLE `codes` ADD CONSTRAINT `codes_batch_id_code_batches_id_fk` FOREIGN KEY (`batch_id`) REFERENCES `code_batches`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `crossings` ADD CONSTRAINT `crossings_fence_id_fences_id_fk` FOREIGN KEY (`fence_id`) REFERENCES `fences`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `grants` ADD CONSTRAINT `grants_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `redemptions` ADD CONSTRAINT `redemptions_code_id_codes_id_fk` FOREIGN KEY (`code_id`) REFERENCES `codes`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `tenures` ADD CONSTRAINT `tenures_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `item_tags` ADD CONSTRAINT `item_tags_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `item_tags` ADD CONSTRAINT `item_tags_tag_id_tags_id_fk` FOREIGN KEY (`tag_id`) REFERENCES `tags`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `placements` ADD CONSTRAINT `placements_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `placements` ADD CONSTRAINT `placements_asset_id_assets_id_fk` FOREIGN KEY (`asset_id`) REFERENCES `assets`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `sessions` ADD CONSTRAINT `sessions_account_id_accounts_id_fk` FOREIGN KEY (`account_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `sign_in_links` ADD CONSTRAINT `sign_in_links_account_id_accounts_id_fk` FOREIGN KEY (`account_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `ledger_entries` ADD CONSTRAINT `ledger_entries_payment_id_payments_id_fk` FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `ledger_postings` ADD CONSTRAINT `ledger_postings_entry_id_ledger_entries_id_fk` FOREIGN KEY (`entry_id`) REFERENCES `ledger_entries`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `order_lines` ADD CONSTRAINT `order_lines_order_id_orders_id_fk` FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `order_lines` ADD CONSTRAINT `order_lines_price_version_id_price_versions_id_fk` FOREIGN KEY (`price_version_id`) REFERENCES `price_versions`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `orders` ADD CONSTRAINT `orders_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `payments` ADD CONSTRAINT `payments_order_id_orders_id_fk` FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `price_versions` ADD CONSTRAINT `price_versions_price_id_prices_id_fk` FOREIGN KEY (`price_id`) REFERENCES `prices`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `prices` ADD CONSTRAINT `prices_plan_id_plans_id_fk` FOREIGN KEY (`plan_id`) REFERENCES `plans`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `receipts` ADD CONSTRAINT `receipts_payment_id_payments_id_fk` FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `subscriptions` ADD CONSTRAINT `subscriptions_member_id_accounts_id_fk` FOREIGN KEY (`member_id`) REFERENCES `accounts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `codes_batch` ON `codes` (`batch_id`);--> statement-breakpoint
CREATE INDEX `crossings_fence` ON `crossings` (`fence_id`,`position`);--> statement-breakpoint
CREATE INDEX `grants_member` ON `grants` (`member_id`);--> statement-breakpoint
CREATE INDEX `grants_plan` ON `grants` (`plan_id`);--> statement-breakpoint
CREATE INDEX `redemptions_member` ON `redemptions` (`member_id`);--> statement-breakpoint
CREATE INDEX `redemptions_device` ON `redemptions` (`device_hash`);--> statement-breakpoint
CREATE INDEX `rights_changes_value` ON `rights_changes` (`value`);--> statement-breakpoint
CREATE INDEX `uses_of` ON `uses` (`member_id`,`item_id`,`at`);--> statement-breakpoint
CREATE INDEX `item_tags_tag` ON `item_tags` (`tag_id`);--> statement-breakpoint
CREATE INDEX `items_home` ON `items` (`home_id`,`position`);--> statement-breakpoint
CREATE INDEX `items_category` ON `items` (`category_id`);--> statement-breakpoint
CREATE INDEX `items_created` ON `items` (`created_at`);--> statement-breakpoint
CREATE INDEX `placements_asset` ON `placements` (`asset_id`);--> statement-breakpoint
CREATE INDEX `rate_limits_end` ON `rate_limits` (`window_end`);--> statement-breakpoint
CREATE INDEX `sessions_account` ON `sessions` (`account_id`);--> statement-breakpoint
CREATE INDEX `audit_subject` ON `audit` (`subject_id`);--> statement-breakpoint
CREATE INDEX `audit_member` ON `audit` (`member_id`);--> statement-breakpoint
CREATE INDEX `jobs_due` ON `jobs` (`queue`,`state`,`run_at`);--> statement-breakpoint
CREATE INDEX `jobs_subject` ON `jobs` (`subject_id`);--> statement-breakpoint
CREATE INDEX `order_lines_order` ON `order_lines` (`order_id`);--> statement-breakpoint
CREATE INDEX `orders_member` ON `orders` (`member_id`);--> statement-breakpoint
CREATE INDEX `orders_created` ON `orders` (`created_at`);--> statement-breakpoint
CREATE INDEX `payments_order` ON `payments` (`order_id`);--> statement-breakpoint
CREATE INDEX `payments_member` ON `payments` (`member_id`);--> statement-breakpoint
CREATE INDEX `payments_created` ON `payments` (`created_at`);--> statement-breakpoint
CREATE INDEX `receipts_member` ON `receipts` (`member_id`);--> statement-breakpoint
CREATE INDEX `subscriptions_member` ON `subscriptions` (`member_id`);--> statement-breakpoint
CREATE INDEX `subscriptions_plan` ON `subscriptions` (`plan_id`);