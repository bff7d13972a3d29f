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
CREATE UNIQUE INDEX `feeds_once` ON `feeds` (`personId`,`of`,`itemId`);