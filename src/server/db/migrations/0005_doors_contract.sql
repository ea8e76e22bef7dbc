ALTER TABLE `jobs` DROP INDEX `jobs_job_key_unique`;--> statement-breakpoint
ALTER TABLE `jobs` DROP COLUMN `job_key`;--> statement-breakpoint
ALTER TABLE `orders` DROP COLUMN `signs_in`;