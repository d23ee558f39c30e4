ALTER TABLE `log_entries` ADD `model_id` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `log_entries` ADD `mesh_hash` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `log_entries` ADD `corrects_id` text;--> statement-breakpoint
UPDATE `log_entries` SET
	`mesh_hash` = coalesce((SELECT `mesh_hash` FROM `parts` WHERE `parts`.`id` = `log_entries`.`part_id`), ''),
	`model_id` = coalesce((SELECT `model_id` FROM `parts` WHERE `parts`.`id` = `log_entries`.`part_id`), '');--> statement-breakpoint
CREATE INDEX `log_model` ON `log_entries` (`model_id`,`mesh_hash`);--> statement-breakpoint
ALTER TABLE `parts` DROP COLUMN `state`;--> statement-breakpoint
ALTER TABLE `parts` DROP COLUMN `failed_at_mm`;