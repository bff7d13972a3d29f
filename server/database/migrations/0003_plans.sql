CREATE TABLE `templateCounts` (
	`id` integer PRIMARY KEY NOT NULL,
	`projects` integer NOT NULL
) STRICT;
--> statement-breakpoint
INSERT INTO `templateCounts` (`id`, `projects`) SELECT `templateId`, count(*) FROM `projects` WHERE `templateId` IS NOT NULL GROUP BY `templateId`;--> statement-breakpoint
DROP INDEX `projects_by_states`;--> statement-breakpoint
CREATE INDEX `projects_by_states` ON `projects` (`stateSetId`) WHERE stateSetId is not null;--> statement-breakpoint
DROP INDEX `tasks_open_by_due`;--> statement-breakpoint
DROP INDEX `tasks_by_parent`;--> statement-breakpoint
CREATE INDEX `tasks_closed` ON `tasks` (`closedAt`) WHERE closedAt is not null;--> statement-breakpoint
CREATE INDEX `tasks_open_by_due` ON `tasks` (`due`) WHERE closedAt is null;--> statement-breakpoint
CREATE INDEX `tasks_by_parent` ON `tasks` (`parentId`) WHERE parentId is not null;--> statement-breakpoint
CREATE INDEX `runs_skipped` ON `runs` (`at`) WHERE outcome = 'skipped';--> statement-breakpoint
DROP INDEX `projects_closed`;--> statement-breakpoint
DROP INDEX `projects_archived`;--> statement-breakpoint
CREATE INDEX `projects_closed` ON `projects` (`closedAt`,`id`) WHERE closedAt is not null and archivedAt is null;--> statement-breakpoint
CREATE INDEX `projects_archived` ON `projects` (`archivedAt`,`id`) WHERE archivedAt is not null;--> statement-breakpoint
CREATE INDEX `notices_read` ON `notices` (`at`) WHERE readAt is not null;--> statement-breakpoint
CREATE INDEX `outbox_over` ON `outbox` (`createdAt`) WHERE state <> 'waiting';--> statement-breakpoint
DELETE FROM `stateDates` WHERE EXISTS (
	SELECT 1 FROM `stateDates` AS `later` WHERE `later`.`taskId` = `stateDates`.`taskId`
	AND `later`.`stateId` = `stateDates`.`stateId` AND (`later`.`at`, `later`.`id`) > (`stateDates`.`at`, `stateDates`.`id`)
);--> statement-breakpoint
DROP INDEX `stateDates_by_task`;--> statement-breakpoint
CREATE UNIQUE INDEX `stateDates_once` ON `stateDates` (`taskId`,`stateId`);--> statement-breakpoint
CREATE INDEX `attachments_by_digest` ON `attachments` (`digest`);
