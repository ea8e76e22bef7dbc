CREATE TABLE `roles` (
	`id` uuid NOT NULL,
	`name` varchar(60) NOT NULL,
	`permissions` json NOT NULL,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `roles_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `accounts` ADD `role_id` uuid;--> statement-breakpoint
INSERT IGNORE INTO `roles` (`id`, `name`, `permissions`, `created_at`) VALUES
	('00000000-0000-7000-8000-0000000000e1', 'Editor', '["library","fences","releases","codes","open-all"]', '2026-01-01 00:00:00.001'),
	('00000000-0000-7000-8000-0000000000e2', 'Support', '["members","sales"]', '2026-01-01 00:00:00.002'),
	('00000000-0000-7000-8000-0000000000e3', 'Bookkeeper', '["sales"]', '2026-01-01 00:00:00.003');
