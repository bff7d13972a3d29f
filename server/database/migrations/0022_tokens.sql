CREATE TABLE `tokens` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`name` text NOT NULL,
	`digest` text NOT NULL,
	`scopes` text NOT NULL,
	`createdAt` integer NOT NULL,
	`endsAt` integer NOT NULL,
	`usedAt` integer,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `tokens_by_digest` ON `tokens` (`digest`);--> statement-breakpoint
CREATE INDEX `tokens_by_person` ON `tokens` (`personId`,`endsAt`);--> statement-breakpoint
ALTER TABLE `journal` ADD `tokenId` integer;