CREATE TABLE `teamAsks` (
	`id` integer PRIMARY KEY NOT NULL,
	`teamId` integer NOT NULL,
	`personId` integer NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`teamId`) REFERENCES `teams`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `teamAsks_once` ON `teamAsks` (`teamId`,`personId`);--> statement-breakpoint
CREATE TABLE `shares` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`projectId` integer,
	`phaseId` integer,
	`clientId` integer,
	`may` text NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`phaseId`) REFERENCES `phases`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE INDEX `shares_by_person` ON `shares` (`personId`,`projectId`);--> statement-breakpoint
CREATE UNIQUE INDEX `shares_of_project` ON `shares` (`projectId`,`personId`) WHERE projectId is not null and phaseId is null;--> statement-breakpoint
CREATE UNIQUE INDEX `shares_of_phase` ON `shares` (`phaseId`,`personId`) WHERE phaseId is not null;--> statement-breakpoint
CREATE UNIQUE INDEX `shares_of_client` ON `shares` (`clientId`,`personId`) WHERE clientId is not null;--> statement-breakpoint
ALTER TABLE `teams` ADD `kind` text DEFAULT 'open' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `audience` text DEFAULT 'firm' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `teamId` integer REFERENCES teams(id);--> statement-breakpoint
CREATE INDEX `projects_apart` ON `projects` (`audience`,`teamId`) WHERE audience <> 'firm';--> statement-breakpoint
ALTER TABLE `fields` ADD `readers` text DEFAULT 'everyone' NOT NULL;--> statement-breakpoint
CREATE INDEX `teamMembers_by_person` ON `teamMembers` (`personId`,`teamId`);