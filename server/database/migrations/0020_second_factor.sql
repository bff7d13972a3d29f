CREATE TABLE `mailServer` (
	`id` integer PRIMARY KEY NOT NULL,
	`host` text NOT NULL,
	`port` integer NOT NULL,
	`security` text NOT NULL,
	`user` text DEFAULT '' NOT NULL,
	`password` text DEFAULT '' NOT NULL,
	`from` text NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `passwordResets` (
	`id` text PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`expiresAt` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `passwordResets_personId_unique` ON `passwordResets` (`personId`);--> statement-breakpoint
CREATE TABLE `recoveryCodes` (
	`id` text PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE INDEX `recoveryCodes_by_person` ON `recoveryCodes` (`personId`);--> statement-breakpoint
CREATE TABLE `secondFactors` (
	`id` integer PRIMARY KEY NOT NULL,
	`secret` text NOT NULL,
	`since` integer,
	`lastStep` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
ALTER TABLE `firm` ADD `address` text;--> statement-breakpoint
ALTER TABLE `firm` ADD `proxies` integer;--> statement-breakpoint
ALTER TABLE `firm` ADD `demandsCodes` integer DEFAULT false NOT NULL;