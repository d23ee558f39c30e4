CREATE TABLE `places` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`width_mm` real,
	`depth_mm` real,
	`height_mm` real,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `references` (
	`id` text PRIMARY KEY NOT NULL,
	`model_id` text NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`measures` text NOT NULL,
	`landmarks` text NOT NULL,
	`mesh_hash` text NOT NULL,
	`move` text NOT NULL,
	`turn` text NOT NULL,
	`lining_mm` real DEFAULT 0 NOT NULL,
	`want_mm` real DEFAULT 2 NOT NULL,
	`created_at` text NOT NULL,
	FOREIGN KEY (`model_id`) REFERENCES `models`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`mesh_hash`) REFERENCES `meshes`(`hash`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `references_model` ON `references` (`model_id`);