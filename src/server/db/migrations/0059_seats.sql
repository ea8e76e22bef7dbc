CREATE TABLE `seats` (
	`id` uuid NOT NULL,
	`agreement_id` uuid NOT NULL,
	`email` varchar(254) character set utf8mb4 collate utf8mb4_bin,
	`invited_at` datetime(3) NOT NULL,
	`member_id` uuid,
	`joined_at` datetime(3),
	`grant_id` uuid,
	`ended_at` datetime(3),
	CONSTRAINT `seats_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `grants` ADD `seat_of` uuid;--> statement-breakpoint
ALTER TABLE `agreements` ADD `seats` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `seats` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `plans` ADD `sells_seats` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `seats` ADD CONSTRAINT `seats_agreement_id_agreements_id_fk` FOREIGN KEY (`agreement_id`) REFERENCES `agreements`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `seats_agreement` ON `seats` (`agreement_id`,`ended_at`);--> statement-breakpoint
CREATE INDEX `seats_email` ON `seats` (`email`);--> statement-breakpoint
CREATE INDEX `seats_member` ON `seats` (`member_id`);--> statement-breakpoint
CREATE INDEX `grants_seat` ON `grants` (`seat_of`);