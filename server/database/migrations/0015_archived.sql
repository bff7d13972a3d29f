ALTER TABLE `series` ADD `archivedAt` integer;--> statement-breakpoint
ALTER TABLE `templates` ADD `archivedAt` integer;