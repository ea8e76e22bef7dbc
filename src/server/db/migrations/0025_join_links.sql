CREATE TABLE `join_links` (
	`token_hash` char(64) NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`next` varchar(700) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `join_links_token_hash` PRIMARY KEY(`token_hash`)
);
--> statement-breakpoint
CREATE INDEX `join_links_email` ON `join_links` (`email`);