ALTER TABLE `placements` ADD `state` varchar(10) DEFAULT 'shown' NOT NULL;--> statement-breakpoint
UPDATE `placements` SET `state` = 'replaced' WHERE `replaced_at` IS NOT NULL;
