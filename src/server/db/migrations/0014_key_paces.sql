CREATE TABLE `key_paces` (
	`name_hash` char(64) NOT NULL,
	`bucket` json NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `key_paces_name_hash` PRIMARY KEY(`name_hash`)
);
--> statement-breakpoint
CREATE INDEX `key_paces_at` ON `key_paces` (`at`);