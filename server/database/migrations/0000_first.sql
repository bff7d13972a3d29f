CREATE TABLE `clients` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`short` text NOT NULL,
	`tier` text DEFAULT 'silver' NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `firm` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`zone` text NOT NULL,
	`week` text NOT NULL,
	`hours` text NOT NULL,
	`demo` integer DEFAULT 0 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `holidays` (
	`id` integer PRIMARY KEY NOT NULL,
	`date` text NOT NULL,
	`name` text NOT NULL,
	`half` integer DEFAULT 0 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `idempotency` (
	`key` text NOT NULL,
	`personId` integer NOT NULL,
	`request` text NOT NULL,
	`answer` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`personId`, `key`)
) STRICT;
--> statement-breakpoint
CREATE TABLE `people` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`email` text NOT NULL,
	`access` text NOT NULL,
	`title` text DEFAULT '' NOT NULL,
	`hours` text,
	`clientId` integer,
	`passwordHash` text,
	`active` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `people_by_email` ON `people` (`email`);--> statement-breakpoint
CREATE TABLE `sessions` (
	`id` text PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`createdAt` integer NOT NULL,
	`expiresAt` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `teamMembers` (
	`id` integer PRIMARY KEY NOT NULL,
	`teamId` integer NOT NULL,
	`personId` integer NOT NULL,
	FOREIGN KEY (`teamId`) REFERENCES `teams`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `teamMembers_once` ON `teamMembers` (`teamId`,`personId`);--> statement-breakpoint
CREATE TABLE `teams` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `timeOff` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`firstDay` text NOT NULL,
	`lastDay` text NOT NULL,
	`reason` text DEFAULT '' NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `timeOff_by_person` ON `timeOff` (`personId`,`lastDay`);--> statement-breakpoint
CREATE TABLE `checklistItems` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`title` text NOT NULL,
	`done` integer DEFAULT 0 NOT NULL,
	`position` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE INDEX `checklistItems_by_task` ON `checklistItems` (`taskId`,`position`);--> statement-breakpoint
CREATE TABLE `comments` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`authorId` integer,
	`body` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`authorId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `comments_by_task` ON `comments` (`taskId`,`at`);--> statement-breakpoint
CREATE TABLE `phases` (
	`id` integer PRIMARY KEY NOT NULL,
	`projectId` integer NOT NULL,
	`name` text NOT NULL,
	`position` integer NOT NULL,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE INDEX `phases_by_project` ON `phases` (`projectId`,`position`);--> statement-breakpoint
CREATE TABLE `projects` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`clientId` integer,
	`leadId` integer,
	`templateId` integer,
	`templateVersion` integer,
	`anchor` text,
	`closedAt` integer,
	`seriesId` integer,
	`occurrence` text,
	`createdAt` integer NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`leadId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `projects_by_client` ON `projects` (`clientId`);--> statement-breakpoint
CREATE TABLE `taskAssignees` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`personId` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `taskAssignees_once` ON `taskAssignees` (`taskId`,`personId`);--> statement-breakpoint
CREATE INDEX `taskAssignees_by_person` ON `taskAssignees` (`personId`);--> statement-breakpoint
CREATE TABLE `tasks` (
	`id` integer PRIMARY KEY NOT NULL,
	`title` text NOT NULL,
	`description` text DEFAULT '' NOT NULL,
	`state` text DEFAULT 'not-started' NOT NULL,
	`priority` text DEFAULT 'normal' NOT NULL,
	`projectId` integer,
	`phaseId` integer,
	`clientId` integer,
	`role` text,
	`start` text,
	`due` text,
	`dueTime` text,
	`estimate` integer,
	`creatorId` integer,
	`seriesId` integer,
	`occurrence` text,
	`rung` integer DEFAULT 0 NOT NULL,
	`rungOf` integer,
	`position` integer DEFAULT 0 NOT NULL,
	`createdAt` integer NOT NULL,
	`closedAt` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`phaseId`) REFERENCES `phases`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`creatorId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `tasks_open_by_due` ON `tasks` (`closedAt`,`due`);--> statement-breakpoint
CREATE INDEX `tasks_by_project` ON `tasks` (`projectId`,`position`);--> statement-breakpoint
CREATE TABLE `occurrences` (
	`id` integer PRIMARY KEY NOT NULL,
	`seriesId` integer NOT NULL,
	`scheduled` text NOT NULL,
	`date` text NOT NULL,
	`projectId` integer,
	`taskId` integer,
	`madeAt` integer NOT NULL,
	FOREIGN KEY (`seriesId`) REFERENCES `series`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `occurrences_once` ON `occurrences` (`seriesId`,`scheduled`);--> statement-breakpoint
CREATE TABLE `rules` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`on` integer DEFAULT 1 NOT NULL,
	`ownerId` integer,
	`definition` text NOT NULL,
	`pausedBecause` text,
	`failures` integer DEFAULT 0 NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	`updatedAt` integer NOT NULL,
	FOREIGN KEY (`ownerId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `runs` (
	`id` integer PRIMARY KEY NOT NULL,
	`key` text NOT NULL,
	`ruleId` integer,
	`seriesId` integer,
	`version` integer,
	`taskId` integer,
	`projectId` integer,
	`outcome` text NOT NULL,
	`summary` text NOT NULL,
	`reasons` text NOT NULL,
	`at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `runs_once` ON `runs` (`key`);--> statement-breakpoint
CREATE INDEX `runs_by_time` ON `runs` (`at`);--> statement-breakpoint
CREATE INDEX `runs_by_rule` ON `runs` (`ruleId`,`at`);--> statement-breakpoint
CREATE TABLE `series` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`makes` text NOT NULL,
	`schedule` text NOT NULL,
	`leadDays` integer DEFAULT 0 NOT NULL,
	`clientId` integer,
	`ownerId` integer,
	`on` integer DEFAULT 1 NOT NULL,
	`reached` text,
	`endedAt` integer,
	`version` integer DEFAULT 1 NOT NULL,
	`createdAt` integer NOT NULL,
	FOREIGN KEY (`clientId`) REFERENCES `clients`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`ownerId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE TABLE `templateVersions` (
	`id` integer PRIMARY KEY NOT NULL,
	`templateId` integer NOT NULL,
	`version` integer NOT NULL,
	`definition` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`templateId`) REFERENCES `templates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `templateVersions_once` ON `templateVersions` (`templateId`,`version`);--> statement-breakpoint
CREATE TABLE `templates` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	`definition` text NOT NULL,
	`updatedAt` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `alarms` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`kind` text NOT NULL,
	`key` text NOT NULL,
	`ruleId` integer,
	`seriesId` integer,
	`taskId` integer,
	`rung` integer
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `alarms_once` ON `alarms` (`key`);--> statement-breakpoint
CREATE INDEX `alarms_due` ON `alarms` (`at`,`id`);--> statement-breakpoint
CREATE INDEX `alarms_by_rule` ON `alarms` (`ruleId`);--> statement-breakpoint
CREATE INDEX `alarms_by_task` ON `alarms` (`taskId`);--> statement-breakpoint
CREATE TABLE `journal` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`change` integer NOT NULL,
	`at` integer NOT NULL,
	`actorKind` text NOT NULL,
	`actorId` integer,
	`causeId` integer,
	`depth` integer DEFAULT 0 NOT NULL,
	`entity` text NOT NULL,
	`entityId` integer NOT NULL,
	`action` text NOT NULL,
	`taskId` integer,
	`projectId` integer,
	`before` text,
	`after` text
) STRICT;
--> statement-breakpoint
CREATE INDEX `journal_by_task` ON `journal` (`taskId`,`id`);--> statement-breakpoint
CREATE INDEX `journal_by_change` ON `journal` (`change`);--> statement-breakpoint
CREATE TABLE `notices` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`kind` text NOT NULL,
	`body` text NOT NULL,
	`taskId` integer,
	`runId` integer,
	`at` integer NOT NULL,
	`readAt` integer,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `notices_by_person` ON `notices` (`personId`,`at`);--> statement-breakpoint
CREATE TABLE `outbox` (
	`id` integer PRIMARY KEY NOT NULL,
	`key` text NOT NULL,
	`recipient` text NOT NULL,
	`subject` text NOT NULL,
	`body` text NOT NULL,
	`state` text DEFAULT 'waiting' NOT NULL,
	`attempts` integer DEFAULT 0 NOT NULL,
	`nextAt` integer NOT NULL,
	`lastError` text,
	`createdAt` integer NOT NULL,
	`sentAt` integer
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `outbox_once` ON `outbox` (`key`);--> statement-breakpoint
CREATE INDEX `outbox_waiting` ON `outbox` (`state`,`nextAt`);--> statement-breakpoint
CREATE TABLE `positions` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`journalId` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `positions_name_unique` ON `positions` (`name`);