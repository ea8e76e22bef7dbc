CREATE TABLE `outside_checkouts` (
	`id` uuid NOT NULL,
	`name` varchar(80) NOT NULL,
	`key_id` varchar(40) NOT NULL,
	`sealed` varchar(300) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`ended_at` datetime(3),
	CONSTRAINT `outside_checkouts_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `outside_events` (
	`id` uuid NOT NULL,
	`checkout_id` uuid NOT NULL,
	`event_id` varchar(100) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`purchase_id` uuid NOT NULL,
	`at` datetime(3) NOT NULL,
	`heard_at` datetime(3) NOT NULL,
	`does` json NOT NULL,
	`digest` char(64) NOT NULL,
	CONSTRAINT `outside_events_id` PRIMARY KEY(`id`),
	CONSTRAINT `outside_events_once` UNIQUE(`checkout_id`,`event_id`)
);
--> statement-breakpoint
CREATE TABLE `outside_purchases` (
	`id` uuid NOT NULL,
	`checkout_id` uuid NOT NULL,
	`purchase` varchar(100) character set utf8mb4 collate utf8mb4_bin NOT NULL,
	`member_id` uuid,
	`grant_id` uuid,
	CONSTRAINT `outside_purchases_id` PRIMARY KEY(`id`),
	CONSTRAINT `outside_purchases_once` UNIQUE(`checkout_id`,`purchase`)
);
--> statement-breakpoint
ALTER TABLE `outside_events` ADD CONSTRAINT `outside_events_purchase_id_outside_purchases_id_fk` FOREIGN KEY (`purchase_id`) REFERENCES `outside_purchases`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `outside_purchases` ADD CONSTRAINT `outside_purchases_checkout_id_outside_checkouts_id_fk` FOREIGN KEY (`checkout_id`) REFERENCES `outside_checkouts`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `outside_events_purchase` ON `outside_events` (`purchase_id`);--> statement-breakpoint
CREATE INDEX `outside_purchases_member` ON `outside_purchases` (`member_id`);