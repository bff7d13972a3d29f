ALTER TABLE `people` ADD `ways` text;--> statement-breakpoint
ALTER TABLE `people` ADD `photo` text;