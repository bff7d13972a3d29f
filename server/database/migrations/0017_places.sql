ALTER TABLE `firm` ADD `country` text;--> statement-breakpoint
ALTER TABLE `firm` ADD `region` text;--> statement-breakpoint
ALTER TABLE `firm` ADD `currency` text DEFAULT 'GBP' NOT NULL;