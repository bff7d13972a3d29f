CREATE TABLE `numbers` (
	`id` text PRIMARY KEY NOT NULL,
	`last` integer NOT NULL
) STRICT;
