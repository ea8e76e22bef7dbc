ALTER TABLE `mail_texts` ADD `language` varchar(8) DEFAULT 'en' NOT NULL;--> statement-breakpoint
UPDATE `mail_texts` SET `language` = coalesce((SELECT json_value(`value`, '$.language') FROM `settings` LIMIT 1), 'en');--> statement-breakpoint
ALTER TABLE `mail_texts` DROP PRIMARY KEY;--> statement-breakpoint
ALTER TABLE `mail_texts` ADD PRIMARY KEY(`occasion`,`language`);
