CREATE TABLE `joints` (
	`body_id` text NOT NULL,
	`key` text NOT NULL,
	`at` text NOT NULL,
	PRIMARY KEY(`body_id`, `key`)
);
