CREATE TABLE `item_ways` (
	`item_id` uuid NOT NULL,
	`way_id` uuid NOT NULL,
	CONSTRAINT `item_ways_item_id` PRIMARY KEY(`item_id`)
);
--> statement-breakpoint
CREATE TABLE `ways_of_watching` (
	`id` uuid NOT NULL,
	`name` varchar(80) NOT NULL,
	`is_default` boolean NOT NULL,
	`way` json NOT NULL,
	CONSTRAINT `ways_of_watching_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `item_ways` ADD CONSTRAINT `item_ways_item_id_items_id_fk` FOREIGN KEY (`item_id`) REFERENCES `items`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
INSERT IGNORE INTO `item_ways` (`item_id`, `way_id`) SELECT `item_id`, `preset_id` FROM `item_players`;--> statement-breakpoint
INSERT IGNORE INTO `ways_of_watching` (`id`, `name`, `is_default`, `way`) SELECT `id`, `name`, `is_default`, CONCAT('{"accent":', JSON_EXTRACT(`preset`, '$.accent'), ',"may":', REPLACE(REPLACE(REPLACE(REPLACE(REPLACE(REPLACE(JSON_COMPACT(JSON_EXTRACT(`preset`, '$.controls')), '"seek",', ''), ',"seek"', ''), '"seek"', ''), '"speed",', ''), ',"speed"', ''), '"speed"', ''), ',"speeds":', IF(JSON_CONTAINS(`preset`, '"speed"', '$.controls'), JSON_COMPACT(JSON_EXTRACT(`preset`, '$.speeds')), '[1]'), ',"going":"', IF(JSON_CONTAINS(`preset`, '"seek"', '$.controls'), IF(JSON_VALUE(`preset`, '$.seeking') = 'back', 'back', 'anywhere'), 'nowhere'), '","resting":"', IF(JSON_CONTAINS(`preset`, 'true', '$.isFolded'), 'few', 'all'), '","startsMuted":', IF(JSON_CONTAINS(`preset`, 'true', '$.startsMuted'), 'true', 'false'), '}') FROM `player_presets`;--> statement-breakpoint
INSERT IGNORE INTO `ways_of_watching` (`id`, `name`, `is_default`, `way`) SELECT '00000000-0000-7000-8000-000000000010', 'At leisure', NOT EXISTS (SELECT 1 FROM `ways_of_watching` WHERE `is_default`), '{"accent":null,"may":["captions","chapters","full-screen","picture-in-picture","quality","volume"],"speeds":[0.75,1,1.25,1.5,2],"going":"anywhere","resting":"all","startsMuted":false}';--> statement-breakpoint
INSERT IGNORE INTO `ways_of_watching` (`id`, `name`, `is_default`, `way`) SELECT '00000000-0000-7000-8000-000000000011', 'Step by step', FALSE, '{"accent":null,"may":["captions","chapters","full-screen","quality","volume"],"speeds":[0.75,1,1.25,1.5],"going":"back","resting":"few","startsMuted":false}';--> statement-breakpoint
INSERT IGNORE INTO `ways_of_watching` (`id`, `name`, `is_default`, `way`) SELECT '00000000-0000-7000-8000-000000000012', 'As in a hall', FALSE, '{"accent":null,"may":["captions","full-screen","volume"],"speeds":[1],"going":"anywhere","resting":"none","startsMuted":false}';
