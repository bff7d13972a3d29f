ALTER TABLE `projects` ADD `state` text DEFAULT 'running' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `heldOn` text;--> statement-breakpoint
ALTER TABLE `projects` ADD `category` text DEFAULT '' NOT NULL;