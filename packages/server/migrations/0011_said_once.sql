CREATE TABLE `answers` (
	`key` text PRIMARY KEY NOT NULL,
	`asked` text NOT NULL,
	`about` text NOT NULL,
	`answer` text,
	`at` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `answers_at` ON `answers` (`at`);--> statement-breakpoint
ALTER TABLE `jobs` ADD `owner` text;--> statement-breakpoint
ALTER TABLE `log_entries` ADD `said_id` text;