ALTER TABLE `runs` ADD `causeId` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `took` integer;