CREATE TABLE `file_items` (
	`item_id` uuid NOT NULL,
	`opens_here` boolean NOT NULL,
	CONSTRAINT `file_items_item_id` PRIMARY KEY(`item_id`)
);
--> statement-breakpoint
CREATE TABLE `item_deterrents` (
	`item_id` uuid NOT NULL,
	`deterrents` json NOT NULL,
	CONSTRAINT `item_deterrents_item_id` PRIMARY KEY(`item_id`)
);
--> statement-breakpoint
CREATE TABLE `item_pictures` (
	`item_id` uuid NOT NULL,
	`cover_key` varchar(200),
	`is_shown_to_all` boolean NOT NULL,
	CONSTRAINT `item_pictures_item_id` PRIMARY KEY(`item_id`)
);
--> statement-breakpoint
CREATE TABLE `item_players` (
	`item_id` uuid NOT NULL,
	`preset_id` uuid NOT NULL,
	CONSTRAINT `item_players_item_id` PRIMARY KEY(`item_id`)
);
--> statement-breakpoint
CREATE TABLE `item_texts` (
	`item_id` uuid NOT NULL,
	`language` varchar(35) NOT NULL,
	`field` varchar(10) NOT NULL,
	`plain` text NOT NULL,
	`blocks` json,
	CONSTRAINT `item_texts_item_id_language_field_pk` PRIMARY KEY(`item_id`,`language`,`field`)
);
--> statement-breakpoint
CREATE TABLE `link_items` (
	`item_id` uuid NOT NULL,
	`target` varchar(2000),
	`opens_here` boolean NOT NULL DEFAULT false,
	CONSTRAINT `link_items_item_id` PRIMARY KEY(`item_id`)
);
--> statement-breakpoint
CREATE TABLE `sites` (
	`id` uuid NOT NULL,
	`name` varchar(120) NOT NULL,
	`origin` varchar(300) character set utf8mb4 collate utf8mb4_bin,
	CONSTRAINT `sites_id` PRIMARY KEY(`id`),
	CONSTRAINT `sites_origin_unique` UNIQUE(`origin`)
);
--> statement-breakpoint
ALTER TABLE `items` ADD `site_id` uuid DEFAULT '00000000-0000-7000-8000-000000000001' NOT NULL;--> statement-breakpoint
ALTER TABLE `items` ADD `owner_id` uuid;--> statement-breakpoint
ALTER TABLE `items` ADD `language` varchar(35) DEFAULT 'en' NOT NULL;--> statement-breakpoint
ALTER TABLE `items` ADD `revision` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `items` ADD CONSTRAINT `items_site_address` UNIQUE(`site_id`,`address`);--> statement-breakpoint
ALTER TABLE `file_items` ADD CONSTRAINT `file_items_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `item_deterrents` ADD CONSTRAINT `item_deterrents_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `item_pictures` ADD CONSTRAINT `item_pictures_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `item_players` ADD CONSTRAINT `item_players_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `item_texts` ADD CONSTRAINT `item_texts_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `link_items` ADD CONSTRAINT `link_items_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
INSERT IGNORE INTO `sites` (`id`, `name`, `origin`) VALUES ('00000000-0000-7000-8000-000000000001', 'Stile', NULL);--> statement-breakpoint
ALTER TABLE `items` ADD CONSTRAINT `items_site_id_sites_id_fk` FOREIGN KEY (`site_id`) REFERENCES `sites`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
UPDATE `items` SET `language` = coalesce((SELECT json_value(`value`, '$.language') FROM `settings` WHERE `id` = 1), 'en');--> statement-breakpoint
INSERT IGNORE INTO `item_texts` (`item_id`, `language`, `field`, `plain`, `blocks`) SELECT `id`, `language`, 'title', `title`, NULL FROM `items`;--> statement-breakpoint
INSERT IGNORE INTO `item_texts` (`item_id`, `language`, `field`, `plain`, `blocks`) SELECT `id`, `language`, 'text', `description`, `body` FROM `items`;--> statement-breakpoint
INSERT IGNORE INTO `item_pictures` (`item_id`, `cover_key`, `is_shown_to_all`) SELECT `id`, `cover_key`, `shows_poster` FROM `items`;--> statement-breakpoint
INSERT IGNORE INTO `link_items` (`item_id`, `target`, `opens_here`) SELECT `id`, `target`, `opens_in_browser` FROM `items` WHERE `kind` = 'link';--> statement-breakpoint
INSERT IGNORE INTO `file_items` (`item_id`, `opens_here`) SELECT `id`, `opens_in_browser` FROM `items` WHERE `kind` <> 'link' AND `opens_in_browser`;--> statement-breakpoint
INSERT IGNORE INTO `item_players` (`item_id`, `preset_id`) SELECT `id`, `preset_id` FROM `items` WHERE `preset_id` IS NOT NULL;--> statement-breakpoint
INSERT IGNORE INTO `item_deterrents` (`item_id`, `deterrents`) SELECT `id`, `deterrents` FROM `items` WHERE `deterrents` IS NOT NULL AND json_type(`deterrents`) <> 'NULL';
