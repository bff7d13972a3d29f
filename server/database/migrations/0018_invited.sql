CREATE TABLE `invitations` (
	`id` text PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`createdAt` integer NOT NULL,
	`expiresAt` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `invitations_personId_unique` ON `invitations` (`personId`);