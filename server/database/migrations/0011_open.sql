CREATE TABLE `openChanges` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`last` integer
) STRICT;
