ALTER TABLE `sessions` ADD `begun_by` varchar(8) DEFAULT 'password' NOT NULL;--> statement-breakpoint
CREATE INDEX `placements_state` ON `placements` (`state`);