CREATE TABLE `tip_ticks` (
	`body_id` text NOT NULL,
	`key` text NOT NULL,
	`at` text NOT NULL,
	PRIMARY KEY(`body_id`, `key`)
);
--> statement-breakpoint
CREATE TABLE `variant_choices` (
	`body_id` text NOT NULL,
	`key` text NOT NULL,
	`at` text NOT NULL,
	PRIMARY KEY(`body_id`, `key`)
);
--> statement-breakpoint
INSERT INTO `tip_ticks` (`body_id`, `key`, `at`) SELECT `body_id`, `key`, `at` FROM `joints` WHERE `key` LIKE 'tip:%';--> statement-breakpoint
DELETE FROM `joints` WHERE `key` LIKE 'tip:%';--> statement-breakpoint
INSERT INTO `variant_choices` (`body_id`, `key`, `at`) SELECT `body_id`, substr(`code`, 10), `at` FROM `dismissals` WHERE `code` GLOB 'variants/*' AND length(`code`) = 41 AND substr(`code`, 10) NOT GLOB '*[^0-9a-f]*';--> statement-breakpoint
DELETE FROM `dismissals` WHERE `code` LIKE 'variants/%';
