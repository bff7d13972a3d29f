ALTER TABLE `attachments` ADD `onBoard` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `view` text;