ALTER TABLE `occurrences` ADD `event` text;--> statement-breakpoint
ALTER TABLE `occurrences` ADD `clientId` integer;--> statement-breakpoint
CREATE UNIQUE INDEX `occurrences_event_once` ON `occurrences` (`seriesId`,`event`) WHERE event is not null;