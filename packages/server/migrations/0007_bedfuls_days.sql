CREATE TABLE `bedfuls` (
	`id` text PRIMARY KEY NOT NULL,
	`project_id` text NOT NULL,
	`model_id` text NOT NULL,
	`number` integer NOT NULL,
	`kind` text NOT NULL,
	`printer_id` text NOT NULL,
	`printer_name` text NOT NULL,
	`bed_mm` text NOT NULL,
	`parts` text NOT NULL,
	`fill_pct` real NOT NULL,
	`duration_s` real NOT NULL,
	`material_g` real NOT NULL,
	`wanted_at` text,
	`arrangement` text NOT NULL,
	`ended_by` text,
	`created_at` text NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`model_id`) REFERENCES `models`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `bedfuls_model` ON `bedfuls` (`model_id`);--> statement-breakpoint
ALTER TABLE `log_entries` ADD `bedful_id` text;--> statement-breakpoint
ALTER TABLE `projects` ADD `due_on` text;