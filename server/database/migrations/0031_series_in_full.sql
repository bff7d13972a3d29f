CREATE TABLE `feeds` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`of` text NOT NULL,
	`itemId` integer DEFAULT 0 NOT NULL,
	`digest` text NOT NULL,
	`createdAt` integer NOT NULL,
	`usedAt` integer,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `feeds_by_digest` ON `feeds` (`digest`);--> statement-breakpoint
CREATE UNIQUE INDEX `feeds_once` ON `feeds` (`personId`,`of`,`itemId`);--> statement-breakpoint
CREATE TABLE `seriesAudits` (
	`id` integer PRIMARY KEY NOT NULL,
	`day` text NOT NULL,
	`at` integer NOT NULL,
	`found` text NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `seriesAudits_day_unique` ON `seriesAudits` (`day`);--> statement-breakpoint
CREATE TABLE `seriesDates` (
	`id` integer PRIMARY KEY NOT NULL,
	`seriesId` integer NOT NULL,
	`scheduled` text NOT NULL,
	`date` text,
	FOREIGN KEY (`seriesId`) REFERENCES `series`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `seriesDates_once` ON `seriesDates` (`seriesId`,`scheduled`);--> statement-breakpoint
DROP INDEX `occurrences_once`;--> statement-breakpoint
ALTER TABLE `occurrences` ADD `state` text DEFAULT 'made' NOT NULL;--> statement-breakpoint
ALTER TABLE `occurrences` ADD `why` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `occurrences` ADD `follows` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `occurrences_follow_once` ON `occurrences` (`seriesId`,`follows`) WHERE follows <> 0;--> statement-breakpoint
CREATE INDEX `occurrences_by_date` ON `occurrences` (`date`);--> statement-breakpoint
CREATE INDEX `occurrences_of_series` ON `occurrences` (`seriesId`,`id`);--> statement-breakpoint
CREATE INDEX `occurrences_held` ON `occurrences` (`seriesId`) WHERE state = 'held';--> statement-breakpoint
CREATE UNIQUE INDEX `occurrences_once` ON `occurrences` (`seriesId`,`scheduled`,`follows`);--> statement-breakpoint
ALTER TABLE `series` ADD `ways` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `series` ADD `since` text;--> statement-breakpoint
UPDATE `series` SET `since` = `reached`;