ALTER TABLE `agreements` ADD `tax` json;--> statement-breakpoint
ALTER TABLE `documents` ADD `tax_kind` varchar(8);--> statement-breakpoint
ALTER TABLE `documents` ADD `tax_country` char(2);--> statement-breakpoint
ALTER TABLE `documents` ADD `tax_name` varchar(20);--> statement-breakpoint
ALTER TABLE `documents` ADD `tax_rate` int;--> statement-breakpoint
ALTER TABLE `documents` ADD `tax_minor` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `tax` json;--> statement-breakpoint
CREATE INDEX `documents_taxed` ON `documents` (`tax_kind`,`issued_at`);