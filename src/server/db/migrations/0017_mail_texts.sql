CREATE TABLE `mail_texts` (
	`occasion` varchar(40) NOT NULL,
	`subject` varchar(200) NOT NULL,
	`text` varchar(4000) NOT NULL,
	`button` varchar(80),
	`changed_at` datetime(3) NOT NULL,
	CONSTRAINT `mail_texts_occasion` PRIMARY KEY(`occasion`)
);--> statement-breakpoint
DELETE FROM `rehearsals`;
