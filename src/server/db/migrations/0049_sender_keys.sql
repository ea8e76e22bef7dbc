CREATE TABLE `sender_keys` (
	`id` uuid NOT NULL,
	`domain` varchar(253) NOT NULL,
	`number` int NOT NULL,
	`public_key` text NOT NULL,
	`key_id` varchar(60) NOT NULL,
	`sealed` text NOT NULL,
	`signs` boolean NOT NULL DEFAULT false,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `sender_keys_id` PRIMARY KEY(`id`),
	CONSTRAINT `sender_keys_number` UNIQUE(`domain`,`number`)
);
--> statement-breakpoint
CREATE TABLE `sender_looks` (
	`domain` varchar(253) NOT NULL,
	`at` datetime(3) NOT NULL,
	`spf` json NOT NULL,
	`dkim` json,
	`dmarc` json NOT NULL,
	CONSTRAINT `sender_looks_domain` PRIMARY KEY(`domain`)
);
--> statement-breakpoint
CREATE INDEX `sender_keys_signs` ON `sender_keys` (`domain`,`signs`);