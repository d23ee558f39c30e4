CREATE TABLE `attachments` (
	`id` text PRIMARY KEY NOT NULL,
	`project_id` text NOT NULL,
	`body_id` text,
	`kind` text NOT NULL,
	`text` text DEFAULT '' NOT NULL,
	`hash` text,
	`media_type` text DEFAULT '' NOT NULL,
	`name` text DEFAULT '' NOT NULL,
	`created_at` text NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `attachments_project` ON `attachments` (`project_id`);--> statement-breakpoint
CREATE TABLE `batches` (
	`id` text PRIMARY KEY NOT NULL,
	`project_id` text NOT NULL,
	`kind` text NOT NULL,
	`title` text NOT NULL,
	`plan` text,
	`refused` text NOT NULL,
	`undone_at` text,
	`created_at` text NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `batches_project` ON `batches` (`project_id`,`created_at`);--> statement-breakpoint
CREATE TABLE `saved_bodies` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`measures` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `settings` (
	`id` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `spool_entries` (
	`id` text PRIMARY KEY NOT NULL,
	`spool_id` text NOT NULL,
	`kind` text NOT NULL,
	`grams` real NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`at` text NOT NULL,
	FOREIGN KEY (`spool_id`) REFERENCES `spools`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `spool_entries_spool` ON `spool_entries` (`spool_id`,`at`);--> statement-breakpoint
CREATE TABLE `spools` (
	`id` text PRIMARY KEY NOT NULL,
	`material_id` text NOT NULL,
	`name` text NOT NULL,
	`colour` text DEFAULT '' NOT NULL,
	`gross_g` real NOT NULL,
	`empty_g` real NOT NULL,
	`opened_on` text,
	`whereabouts` text DEFAULT '' NOT NULL,
	`ended_at` text,
	`created_at` text NOT NULL,
	FOREIGN KEY (`material_id`) REFERENCES `materials`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `jobs` ADD `batch_id` text;--> statement-breakpoint
CREATE INDEX `jobs_batch` ON `jobs` (`batch_id`);--> statement-breakpoint
ALTER TABLE `materials` ADD `shrinkage_pct` real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `materials` ADD `cautions` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `models` ADD `source` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `models` ADD `terms` text DEFAULT 'unknown' NOT NULL;--> statement-breakpoint
ALTER TABLE `models` ADD `path` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `models` ADD `copies` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `models` ADD `colour` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `models` ADD `aside` text;--> statement-breakpoint
ALTER TABLE `printers` ADD `retired_at` text;--> statement-breakpoint
ALTER TABLE `projects` ADD `source` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `terms` text DEFAULT 'unknown' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `licence` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `archived_at` text;--> statement-breakpoint
ALTER TABLE `projects` ADD `removed_at` text;