CREATE TABLE `subscription_facts` (
	`id` uuid NOT NULL,
	`subscription_id` uuid NOT NULL,
	`at` datetime(3) NOT NULL,
	`heard_at` datetime(3) NOT NULL,
	`fact` json NOT NULL,
	`once_key` varchar(40),
	CONSTRAINT `subscription_facts_id` PRIMARY KEY(`id`),
	CONSTRAINT `subscription_facts_once` UNIQUE(`subscription_id`,`once_key`)
);
--> statement-breakpoint
ALTER TABLE `subscriptions` ADD `beginning` json;--> statement-breakpoint
ALTER TABLE `subscription_facts` ADD CONSTRAINT `subscription_facts_subscription_id_subscriptions_id_fk` FOREIGN KEY (`subscription_id`) REFERENCES `subscriptions`(`id`) ON DELETE no action ON UPDATE no action;