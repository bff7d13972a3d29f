CREATE TABLE `clientStates` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`colour` text NOT NULL,
	`first` integer DEFAULT false NOT NULL,
	`position` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `clientTags` (
	`id` integer PRIMARY KEY NOT NULL,
	`clientId` integer NOT NULL,
	`tagId` integer NOT NULL,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`tagId`) REFERENCES `tags`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `clientTags_once` ON `clientTags` (`clientId`,`tagId`);--> statement-breakpoint
CREATE INDEX `clientTags_by_tag` ON `clientTags` (`tagId`);--> statement-breakpoint
CREATE TABLE `clientValues` (
	`id` integer PRIMARY KEY NOT NULL,
	`clientId` integer NOT NULL,
	`fieldId` integer NOT NULL,
	`text` text,
	`number` real,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`fieldId`) REFERENCES `fields`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `clientValues_once` ON `clientValues` (`clientId`,`fieldId`);--> statement-breakpoint
CREATE INDEX `clientValues_by_field` ON `clientValues` (`fieldId`);--> statement-breakpoint
CREATE TABLE `projectValues` (
	`id` integer PRIMARY KEY NOT NULL,
	`projectId` integer NOT NULL,
	`fieldId` integer NOT NULL,
	`text` text,
	`number` real,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`fieldId`) REFERENCES `fields`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `projectValues_once` ON `projectValues` (`projectId`,`fieldId`);--> statement-breakpoint
CREATE INDEX `projectValues_by_field` ON `projectValues` (`fieldId`);--> statement-breakpoint
ALTER TABLE `clients` ADD `stateId` integer REFERENCES clientStates(id);--> statement-breakpoint
ALTER TABLE `fields` ADD `of` text DEFAULT 'task' NOT NULL;--> statement-breakpoint
INSERT INTO `clientStates` (`id`, `name`, `colour`, `first`, `position`) VALUES
	(1, 'In talks', 'ochre', false, 0), (2, 'Active', 'fern', true, 1), (3, 'Paused', 'slate', false, 2),
	(4, 'Former', 'dusk', false, 3);--> statement-breakpoint
UPDATE `clients` SET `stateId` = 2;
