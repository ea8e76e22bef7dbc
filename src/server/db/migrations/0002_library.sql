CREATE TABLE `link_openings` (
	`id` uuid NOT NULL,
	`link_hash` char(64) NOT NULL,
	`item_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`network` varchar(60) NOT NULL,
	`first_at` datetime(3) NOT NULL,
	`last_at` datetime(3) NOT NULL,
	`requests` int NOT NULL,
	CONSTRAINT `link_openings_id` PRIMARY KEY(`id`),
	CONSTRAINT `link_openings_once` UNIQUE(`link_hash`,`network`)
);
--> statement-breakpoint
CREATE TABLE `use_gifts` (
	`id` uuid NOT NULL,
	`item_id` uuid NOT NULL,
	`member_id` uuid NOT NULL,
	`count` int NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `use_gifts_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `captions` (
	`id` uuid NOT NULL,
	`asset_id` uuid NOT NULL,
	`language` varchar(35) NOT NULL,
	`label` varchar(80) NOT NULL,
	`cues` json NOT NULL,
	`changed_at` datetime(3) NOT NULL,
	CONSTRAINT `captions_id` PRIMARY KEY(`id`),
	CONSTRAINT `captions_once` UNIQUE(`asset_id`,`language`)
);
--> statement-breakpoint
CREATE TABLE `player_presets` (
	`id` uuid NOT NULL,
	`name` varchar(80) NOT NULL,
	`is_default` boolean NOT NULL,
	`preset` json NOT NULL,
	CONSTRAINT `player_presets_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `positions` (
	`member_id` uuid NOT NULL,
	`item_id` uuid NOT NULL,
	`seconds` int NOT NULL,
	`changed_at` datetime(3) NOT NULL,
	CONSTRAINT `positions_member_id_item_id_pk` PRIMARY KEY(`member_id`,`item_id`)
);
--> statement-breakpoint
ALTER TABLE `uses` ADD `sent_bytes` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `uses` ADD `given_back_at` datetime(3);--> statement-breakpoint
ALTER TABLE `assets` ADD `media_type` varchar(120) DEFAULT 'application/octet-stream' NOT NULL;--> statement-breakpoint
ALTER TABLE `assets` ADD `source` json;--> statement-breakpoint
ALTER TABLE `assets` ADD `facts` json;--> statement-breakpoint
ALTER TABLE `assets` ADD `chapters` json;--> statement-breakpoint
ALTER TABLE `assets` ADD `poster_seconds` int;--> statement-breakpoint
ALTER TABLE `assets` ADD `is_levelled` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `items` ADD `body` json;--> statement-breakpoint
ALTER TABLE `items` ADD `cover_key` varchar(200);--> statement-breakpoint
ALTER TABLE `items` ADD `opens_in_browser` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `items` ADD `preset_id` uuid;--> statement-breakpoint
ALTER TABLE `items` ADD `deterrents` json;--> statement-breakpoint
ALTER TABLE `placements` ADD `replaced_at` datetime(3);--> statement-breakpoint
ALTER TABLE `captions` ADD CONSTRAINT `captions_asset_id_assets_id_fk` FOREIGN KEY (`asset_id`) REFERENCES `assets`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `positions` ADD CONSTRAINT `positions_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `link_openings_of` ON `link_openings` (`member_id`,`first_at`);--> statement-breakpoint
CREATE INDEX `use_gifts_of` ON `use_gifts` (`member_id`,`item_id`);