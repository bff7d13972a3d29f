CREATE TABLE `clientRoles` (
	`id` integer PRIMARY KEY NOT NULL,
	`clientId` integer NOT NULL,
	`role` text NOT NULL,
	`personId` integer NOT NULL,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `clientRoles_once` ON `clientRoles` (`clientId`,`role`);--> statement-breakpoint
ALTER TABLE `clients` ADD `kind` text DEFAULT 'organisation' NOT NULL;--> statement-breakpoint
ALTER TABLE `clients` ADD `email` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `clients` ADD `phone` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `clients` ADD `website` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `clients` ADD `address` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `clients` ADD `notes` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `clients` ADD `leadId` integer REFERENCES people(id);