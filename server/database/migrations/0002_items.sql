-- Alarms, runs, notices and the journal name what they are about by kind and number.
ALTER TABLE `firm` ADD `retention` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
CREATE TABLE `__new_alarms` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`kind` text NOT NULL,
	`key` text NOT NULL,
	`ruleId` integer,
	`itemKind` text NOT NULL,
	`itemId` integer NOT NULL,
	`rung` integer
) STRICT;
--> statement-breakpoint
INSERT INTO `__new_alarms` (`id`, `at`, `kind`, `key`, `ruleId`, `itemKind`, `itemId`, `rung`)
	SELECT `id`, `at`, `kind`, `key`, `ruleId`, CASE WHEN `kind` = 'series' THEN 'series' ELSE 'task' END,
	CASE WHEN `kind` = 'series' THEN `seriesId` ELSE `taskId` END, `rung` FROM `alarms`
	WHERE CASE WHEN `kind` = 'series' THEN `seriesId` ELSE `taskId` END IS NOT NULL;--> statement-breakpoint
DROP TABLE `alarms`;--> statement-breakpoint
ALTER TABLE `__new_alarms` RENAME TO `alarms`;--> statement-breakpoint
CREATE UNIQUE INDEX `alarms_once` ON `alarms` (`key`);--> statement-breakpoint
CREATE INDEX `alarms_due` ON `alarms` (`at`,`id`);--> statement-breakpoint
CREATE INDEX `alarms_by_rule` ON `alarms` (`ruleId`);--> statement-breakpoint
CREATE INDEX `alarms_by_item` ON `alarms` (`itemKind`,`itemId`);--> statement-breakpoint
DROP INDEX `journal_by_task`;--> statement-breakpoint
ALTER TABLE `journal` ADD `itemKind` text;--> statement-breakpoint
ALTER TABLE `journal` ADD `itemId` integer;--> statement-breakpoint
UPDATE `journal` SET
	`itemKind` = CASE WHEN `taskId` IS NOT NULL THEN 'task' WHEN `projectId` IS NOT NULL THEN 'project'
		WHEN `entity` = 'series' THEN 'series' WHEN `entity` = 'rules' THEN 'rule'
		WHEN `entity` = 'templates' THEN 'template' WHEN `entity` = 'clients' THEN 'client' END,
	`itemId` = CASE WHEN `taskId` IS NOT NULL THEN `taskId` WHEN `projectId` IS NOT NULL THEN `projectId`
		WHEN `entity` IN ('series', 'rules', 'templates', 'clients') THEN `entityId` END;--> statement-breakpoint
ALTER TABLE `journal` DROP COLUMN `taskId`;--> statement-breakpoint
CREATE INDEX `journal_by_item` ON `journal` (`itemKind`,`itemId`,`id`);--> statement-breakpoint
CREATE INDEX `journal_by_row` ON `journal` (`entity`,`entityId`,`change`);--> statement-breakpoint
CREATE INDEX `journal_by_project` ON `journal` (`projectId`,`change`);--> statement-breakpoint
CREATE INDEX `journal_by_time` ON `journal` (`at`);--> statement-breakpoint
DROP INDEX `notices_by_person`;--> statement-breakpoint
ALTER TABLE `notices` ADD `itemKind` text;--> statement-breakpoint
ALTER TABLE `notices` ADD `itemId` integer;--> statement-breakpoint
UPDATE `notices` SET `itemKind` = 'task', `itemId` = `taskId` WHERE `taskId` IS NOT NULL;--> statement-breakpoint
ALTER TABLE `notices` DROP COLUMN `taskId`;--> statement-breakpoint
CREATE INDEX `notices_by_person` ON `notices` (`personId`,`id`);--> statement-breakpoint
CREATE INDEX `notices_unread` ON `notices` (`personId`,`kind`,`id`) WHERE readAt is null;--> statement-breakpoint
ALTER TABLE `runs` ADD `itemKind` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `itemId` integer;--> statement-breakpoint
UPDATE `runs` SET
	`itemKind` = CASE WHEN `taskId` IS NOT NULL THEN 'task' WHEN `projectId` IS NOT NULL THEN 'project' END,
	`itemId` = coalesce(`taskId`, `projectId`);--> statement-breakpoint
ALTER TABLE `runs` DROP COLUMN `taskId`;--> statement-breakpoint
ALTER TABLE `runs` DROP COLUMN `projectId`;--> statement-breakpoint
CREATE INDEX `runs_of_rule` ON `runs` (`ruleId`,`id`);--> statement-breakpoint
CREATE INDEX `runs_by_outcome` ON `runs` (`outcome`,`id`);--> statement-breakpoint
CREATE INDEX `runs_by_item` ON `runs` (`itemKind`,`itemId`);--> statement-breakpoint
CREATE INDEX `tasks_by_phase` ON `tasks` (`phaseId`);--> statement-breakpoint
CREATE INDEX `tasks_by_state` ON `tasks` (`stateId`);--> statement-breakpoint
CREATE INDEX `tasks_by_creator` ON `tasks` (`creatorId`,`closedAt`);--> statement-breakpoint
CREATE INDEX `projects_by_template` ON `projects` (`templateId`);--> statement-breakpoint
CREATE INDEX `projects_by_states` ON `projects` (`stateSetId`);--> statement-breakpoint
CREATE INDEX `projects_running` ON `projects` (`name`) WHERE closedAt is null and archivedAt is null;--> statement-breakpoint
CREATE INDEX `projects_closed` ON `projects` (`closedAt`,`id`);--> statement-breakpoint
CREATE INDEX `projects_archived` ON `projects` (`archivedAt`,`id`);--> statement-breakpoint
CREATE INDEX `stateDates_by_state` ON `stateDates` (`stateId`);--> statement-breakpoint
CREATE TABLE `openAssignments` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`taskId` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `openAssignments_once` ON `openAssignments` (`personId`,`taskId`);--> statement-breakpoint
CREATE INDEX `openAssignments_by_task` ON `openAssignments` (`taskId`);--> statement-breakpoint
CREATE TABLE `openUnassigned` (
	`id` integer PRIMARY KEY NOT NULL,
	`projectId` integer,
	`role` text,
	`creatorId` integer,
	FOREIGN KEY (`id`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE INDEX `openUnassigned_by_role` ON `openUnassigned` (`projectId`,`role`) WHERE role is not null;--> statement-breakpoint
CREATE INDEX `openUnassigned_ownerless` ON `openUnassigned` (`id`) WHERE role is null;--> statement-breakpoint
CREATE INDEX `openUnassigned_by_creator` ON `openUnassigned` (`creatorId`);--> statement-breakpoint
CREATE INDEX `tasks_in_review` ON `tasks` (`projectId`) WHERE state = 'in-review' and closedAt is null;--> statement-breakpoint
CREATE INDEX `tasks_in_review_by_creator` ON `tasks` (`creatorId`) WHERE state = 'in-review' and closedAt is null;--> statement-breakpoint
CREATE INDEX `projects_by_lead` ON `projects` (`leadId`,`closedAt`);--> statement-breakpoint
CREATE TABLE `seriesPeople` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`seriesId` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`seriesId`) REFERENCES `series`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `seriesPeople_once` ON `seriesPeople` (`personId`,`seriesId`);--> statement-breakpoint
CREATE INDEX `seriesPeople_by_series` ON `seriesPeople` (`seriesId`);--> statement-breakpoint
CREATE TABLE `stateCounts` (
	`id` integer PRIMARY KEY NOT NULL,
	`tasks` integer NOT NULL
) STRICT;
--> statement-breakpoint
INSERT INTO `openAssignments` (`personId`, `taskId`) SELECT a.`personId`, a.`taskId` FROM `taskAssignees` a
	JOIN `tasks` t ON t.`id` = a.`taskId` WHERE t.`closedAt` IS NULL AND t.`archivedAt` IS NULL;--> statement-breakpoint
INSERT INTO `openUnassigned` (`id`, `projectId`, `role`, `creatorId`) SELECT `id`, `projectId`, `role`, `creatorId` FROM `tasks` t
	WHERE `closedAt` IS NULL AND `archivedAt` IS NULL
	AND NOT EXISTS (SELECT 1 FROM `taskAssignees` a WHERE a.`taskId` = t.`id`);--> statement-breakpoint
INSERT INTO `stateCounts` (`id`, `tasks`) SELECT `stateId`, count(*) FROM `tasks` WHERE `stateId` IS NOT NULL GROUP BY `stateId`;--> statement-breakpoint
INSERT INTO `seriesPeople` (`personId`, `seriesId`) SELECT DISTINCT w.`id`, s.`id` FROM `series` s JOIN `people` w
	WHERE w.`id` IN (SELECT `value` FROM json_each(s.`makes`, '$.assignees')
	UNION SELECT json_extract(`value`, '$.person') FROM json_each(s.`makes`, '$.roles'));
