ALTER TABLE `orders` ADD `postal` json;--> statement-breakpoint
ALTER TABLE `plans` ADD `asks_postal` boolean DEFAULT false NOT NULL;