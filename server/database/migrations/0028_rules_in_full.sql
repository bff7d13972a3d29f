CREATE TABLE `reminded` (
	`id` integer PRIMARY KEY NOT NULL,
	`reminderId` integer NOT NULL,
	`personId` integer NOT NULL,
	`day` text NOT NULL,
	`at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `reminded_once` ON `reminded` (`reminderId`,`personId`,`day`);--> statement-breakpoint
CREATE TABLE `reminders` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`when` text NOT NULL,
	`assignees` integer NOT NULL,
	`people` text NOT NULL,
	`daily` integer NOT NULL,
	`text` text DEFAULT '' NOT NULL,
	`creatorId` integer,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`creatorId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `reminders_by_task` ON `reminders` (`taskId`);--> statement-breakpoint
CREATE TABLE `holding` (
	`id` integer PRIMARY KEY NOT NULL,
	`ruleId` integer NOT NULL,
	`taskId` integer NOT NULL,
	FOREIGN KEY (`ruleId`) REFERENCES `rules`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `holding_once` ON `holding` (`ruleId`,`taskId`);--> statement-breakpoint
CREATE INDEX `holding_by_task` ON `holding` (`taskId`);--> statement-breakpoint
CREATE TABLE `ruleOffs` (
	`id` integer PRIMARY KEY NOT NULL,
	`ruleId` integer NOT NULL,
	`projectId` integer NOT NULL,
	FOREIGN KEY (`ruleId`) REFERENCES `rules`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `ruleOffs_once` ON `ruleOffs` (`ruleId`,`projectId`);--> statement-breakpoint
CREATE INDEX `ruleOffs_by_project` ON `ruleOffs` (`projectId`);--> statement-breakpoint
CREATE TABLE `turns` (
	`id` text PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `waits` (
	`id` integer PRIMARY KEY NOT NULL,
	`key` text NOT NULL,
	`run` text NOT NULL,
	`leg` integer NOT NULL,
	`ruleId` integer NOT NULL,
	`version` integer NOT NULL,
	`conditions` text NOT NULL,
	`deeds` text NOT NULL,
	`after` integer NOT NULL,
	`name` text NOT NULL,
	`was` text NOT NULL,
	`changes` text NOT NULL,
	`causeId` integer,
	`depth` integer NOT NULL,
	`at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `waits_once` ON `waits` (`key`);--> statement-breakpoint
CREATE INDEX `waits_by_rule` ON `waits` (`ruleId`);--> statement-breakpoint
ALTER TABLE `firm` ADD `stoppedAt` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `times` integer DEFAULT 1 NOT NULL;