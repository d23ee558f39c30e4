CREATE TABLE `dismissals` (
	`body_id` text NOT NULL,
	`code` text NOT NULL,
	`reason` text NOT NULL,
	`at` text NOT NULL,
	PRIMARY KEY(`body_id`, `code`)
);
--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`title` text NOT NULL,
	`project_id` text,
	`body_id` text,
	`payload` text NOT NULL,
	`state` text NOT NULL,
	`progress` real DEFAULT 0 NOT NULL,
	`phase` text DEFAULT '' NOT NULL,
	`error` text,
	`result` text,
	`attempts` integer DEFAULT 0 NOT NULL,
	`heartbeat_at` text,
	`created_at` text NOT NULL,
	`started_at` text,
	`ended_at` text,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `line_states` (
	`body_id` text NOT NULL,
	`seq` integer NOT NULL,
	`step_ids` text NOT NULL,
	`cursor` integer NOT NULL,
	PRIMARY KEY(`body_id`, `seq`)
);
--> statement-breakpoint
CREATE TABLE `log_entries` (
	`id` text PRIMARY KEY NOT NULL,
	`project_id` text NOT NULL,
	`part_id` text NOT NULL,
	`tag` text NOT NULL,
	`printer_id` text,
	`outcome` text NOT NULL,
	`height_mm` real,
	`duration_s` real,
	`material_g` real,
	`note` text DEFAULT '' NOT NULL,
	`at` text NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `log_project` ON `log_entries` (`project_id`,`at`);--> statement-breakpoint
CREATE TABLE `materials` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`density_g_cm3` real NOT NULL,
	`price_per_kg` real NOT NULL,
	`stock_g` real NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `meshes` (
	`hash` text PRIMARY KEY NOT NULL,
	`triangles` integer NOT NULL,
	`vertices` integer NOT NULL,
	`bytes` integer NOT NULL,
	`facts` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `models` (
	`id` text PRIMARY KEY NOT NULL,
	`project_id` text NOT NULL,
	`name` text NOT NULL,
	`source_name` text NOT NULL,
	`source_hash` text NOT NULL,
	`licence` text DEFAULT '' NOT NULL,
	`seq` integer DEFAULT 1 NOT NULL,
	`created_at` text NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `models_project` ON `models` (`project_id`);--> statement-breakpoint
CREATE TABLE `parts` (
	`id` text PRIMARY KEY NOT NULL,
	`model_id` text NOT NULL,
	`step_id` text NOT NULL,
	`position` integer NOT NULL,
	`tag` text NOT NULL,
	`mesh_hash` text NOT NULL,
	`state` text DEFAULT 'planned' NOT NULL,
	`failed_at_mm` real,
	`seq` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`model_id`) REFERENCES `models`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`step_id`) REFERENCES `steps`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`mesh_hash`) REFERENCES `meshes`(`hash`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `parts_model` ON `parts` (`model_id`,`step_id`);--> statement-breakpoint
CREATE TABLE `printers` (
	`id` text PRIMARY KEY NOT NULL,
	`profile` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `projects` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`created_at` text NOT NULL,
	`updated_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `steps` (
	`id` text PRIMARY KEY NOT NULL,
	`operation` text NOT NULL,
	`version` integer NOT NULL,
	`params` text NOT NULL,
	`inputs` text NOT NULL,
	`outputs` text NOT NULL,
	`report` text NOT NULL,
	`elapsed_ms` integer NOT NULL,
	`created_at` text NOT NULL
);
