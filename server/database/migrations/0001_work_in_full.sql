CREATE TABLE `stateSets` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `states` (
	`id` integer PRIMARY KEY NOT NULL,
	`setId` integer NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`colour` text,
	`only` text DEFAULT 'anyone' NOT NULL,
	`position` integer NOT NULL,
	FOREIGN KEY (`setId`) REFERENCES `stateSets`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE INDEX `states_by_set` ON `states` (`setId`,`position`);--> statement-breakpoint
CREATE TABLE `attachments` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer,
	`projectId` integer,
	`name` text NOT NULL,
	`url` text,
	`type` text,
	`size` integer,
	`digest` text,
	`personId` integer,
	`at` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `attachments_by_task` ON `attachments` (`taskId`);--> statement-breakpoint
CREATE INDEX `attachments_by_project` ON `attachments` (`projectId`);--> statement-breakpoint
CREATE TABLE `milestones` (
	`id` integer PRIMARY KEY NOT NULL,
	`projectId` integer NOT NULL,
	`name` text NOT NULL,
	`ownerId` integer,
	`date` text,
	`doneAt` integer,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`ownerId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `milestones_by_project` ON `milestones` (`projectId`,`date`);--> statement-breakpoint
CREATE TABLE `posts` (
	`id` integer PRIMARY KEY NOT NULL,
	`projectId` integer NOT NULL,
	`authorId` integer,
	`health` text,
	`body` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`authorId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `posts_by_project` ON `posts` (`projectId`,`at`);--> statement-breakpoint
CREATE TABLE `taskFollowers` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`personId` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `taskFollowers_once` ON `taskFollowers` (`taskId`,`personId`);--> statement-breakpoint
CREATE TABLE `fieldValues` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`fieldId` integer NOT NULL,
	`text` text,
	`number` real,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`fieldId`) REFERENCES `fields`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `fieldValues_once` ON `fieldValues` (`taskId`,`fieldId`);--> statement-breakpoint
CREATE INDEX `fieldValues_by_field` ON `fieldValues` (`fieldId`);--> statement-breakpoint
CREATE TABLE `fields` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`options` text DEFAULT '{}' NOT NULL,
	`projectId` integer,
	`templateId` integer,
	`hidden` integer DEFAULT 0 NOT NULL,
	`position` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE TABLE `hiddenFields` (
	`id` integer PRIMARY KEY NOT NULL,
	`projectId` integer NOT NULL,
	`fieldId` integer NOT NULL,
	FOREIGN KEY (`projectId`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`fieldId`) REFERENCES `fields`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `hiddenFields_once` ON `hiddenFields` (`projectId`,`fieldId`);--> statement-breakpoint
CREATE TABLE `stateDates` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`stateId` integer,
	`kind` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`stateId`) REFERENCES `states`(`id`) ON UPDATE no action ON DELETE set null
) STRICT;
--> statement-breakpoint
CREATE INDEX `stateDates_by_task` ON `stateDates` (`taskId`,`at`);--> statement-breakpoint
CREATE TABLE `tags` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`colour` text NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `tags_by_name` ON `tags` (`name`);--> statement-breakpoint
CREATE TABLE `taskTags` (
	`id` integer PRIMARY KEY NOT NULL,
	`taskId` integer NOT NULL,
	`tagId` integer NOT NULL,
	FOREIGN KEY (`taskId`) REFERENCES `tasks`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`tagId`) REFERENCES `tags`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `taskTags_once` ON `taskTags` (`taskId`,`tagId`);--> statement-breakpoint
CREATE INDEX `taskTags_by_tag` ON `taskTags` (`tagId`);--> statement-breakpoint
CREATE TABLE `viewPins` (
	`id` integer PRIMARY KEY NOT NULL,
	`personId` integer NOT NULL,
	`viewId` integer NOT NULL,
	FOREIGN KEY (`personId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`viewId`) REFERENCES `views`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `viewPins_once` ON `viewPins` (`personId`,`viewId`);--> statement-breakpoint
CREATE TABLE `views` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`ownerId` integer NOT NULL,
	`shared` integer DEFAULT 0 NOT NULL,
	`definition` text NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`ownerId`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
ALTER TABLE `projects` ADD `description` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `stateSetId` integer REFERENCES stateSets(id);--> statement-breakpoint
ALTER TABLE `projects` ADD `health` text;--> statement-breakpoint
ALTER TABLE `projects` ADD `healthReason` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `projects` ADD `archivedAt` integer;--> statement-breakpoint
ALTER TABLE `taskAssignees` ADD `estimate` integer;--> statement-breakpoint
ALTER TABLE `taskAssignees` ADD `doneAt` integer;--> statement-breakpoint
ALTER TABLE `tasks` ADD `stateId` integer REFERENCES states(id);--> statement-breakpoint
ALTER TABLE `tasks` ADD `parentId` integer REFERENCES tasks(id);--> statement-breakpoint
ALTER TABLE `tasks` ADD `datesFollow` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `tasks` ADD `stateFollows` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `tasks` ADD `doneBy` text DEFAULT 'any' NOT NULL;--> statement-breakpoint
ALTER TABLE `tasks` ADD `archivedAt` integer;--> statement-breakpoint
ALTER TABLE `tasks` ADD `mergedInto` integer;--> statement-breakpoint
CREATE INDEX `tasks_by_due` ON `tasks` (`due`);--> statement-breakpoint
CREATE INDEX `tasks_by_parent` ON `tasks` (`parentId`);--> statement-breakpoint
CREATE INDEX `tasks_by_client` ON `tasks` (`clientId`);--> statement-breakpoint
ALTER TABLE `templates` ADD `stateSetId` integer;--> statement-breakpoint
ALTER TABLE `journal` ADD `undoes` integer;--> statement-breakpoint
CREATE INDEX `journal_undoes` ON `journal` (`undoes`) WHERE undoes is not null;--> statement-breakpoint
INSERT INTO `stateSets` (`id`, `name`) VALUES (1, 'The firm’s own');--> statement-breakpoint
INSERT INTO `states` (`id`, `setId`, `name`, `kind`, `position`) VALUES
	(1, 1, 'Not started', 'not-started', 0), (2, 1, 'Under way', 'under-way', 1), (3, 1, 'Waiting', 'waiting', 2),
	(4, 1, 'In review', 'in-review', 3), (5, 1, 'Done', 'done', 4), (6, 1, 'Dropped', 'dropped', 5);--> statement-breakpoint
UPDATE `tasks` SET `stateId` = (SELECT `id` FROM `states` WHERE `kind` = `tasks`.`state`);--> statement-breakpoint
INSERT INTO `stateDates` (`taskId`, `stateId`, `kind`, `at`)
	SELECT j.`entityId`, s.`id`, s.`kind`, j.`at` FROM `journal` j
	JOIN `states` s ON s.`kind` = coalesce(json_extract(j.`after`, '$.state'), 'not-started')
	WHERE j.`entity` = 'tasks' AND (j.`action` = 'made' OR json_type(j.`after`, '$.state') IS NOT NULL)
	AND EXISTS (SELECT 1 FROM `tasks` t WHERE t.`id` = j.`entityId`) ORDER BY j.`id`;--> statement-breakpoint
UPDATE `tasks` SET `description` = '<p>' || replace(replace(replace(replace(`description`, '&', '&amp;'), '<', '&lt;'), '>', '&gt;'), char(10), '<br>') || '</p>' WHERE `description` <> '';--> statement-breakpoint
UPDATE `comments` SET `body` = '<p>' || replace(replace(replace(replace(`body`, '&', '&amp;'), '<', '&lt;'), '>', '&gt;'), char(10), '<br>') || '</p>';--> statement-breakpoint
CREATE VIRTUAL TABLE `search` USING fts5(`title`, `body`, content='', contentless_delete=1, tokenize='unicode61 remove_diacritics 2', prefix='2 3');--> statement-breakpoint
CREATE TRIGGER `search_task_made` AFTER INSERT ON `tasks` BEGIN INSERT INTO `search` (`rowid`, `title`, `body`) VALUES (new.`id` * 4, new.`title`, plain_text(new.`description`)); END;--> statement-breakpoint
CREATE TRIGGER `search_task_changed` AFTER UPDATE OF `title`, `description` ON `tasks` BEGIN UPDATE `search` SET `title` = new.`title`, `body` = plain_text(new.`description`) WHERE `rowid` = new.`id` * 4; END;--> statement-breakpoint
CREATE TRIGGER `search_task_removed` AFTER DELETE ON `tasks` BEGIN DELETE FROM `search` WHERE `rowid` = old.`id` * 4; END;--> statement-breakpoint
CREATE TRIGGER `search_comment_made` AFTER INSERT ON `comments` BEGIN INSERT INTO `search` (`rowid`, `title`, `body`) VALUES (new.`id` * 4 + 1, '', plain_text(new.`body`)); END;--> statement-breakpoint
CREATE TRIGGER `search_comment_changed` AFTER UPDATE OF `body` ON `comments` BEGIN UPDATE `search` SET `title` = '', `body` = plain_text(new.`body`) WHERE `rowid` = new.`id` * 4 + 1; END;--> statement-breakpoint
CREATE TRIGGER `search_comment_removed` AFTER DELETE ON `comments` BEGIN DELETE FROM `search` WHERE `rowid` = old.`id` * 4 + 1; END;--> statement-breakpoint
CREATE TRIGGER `search_project_made` AFTER INSERT ON `projects` BEGIN INSERT INTO `search` (`rowid`, `title`, `body`) VALUES (new.`id` * 4 + 2, new.`name`, plain_text(new.`description`)); END;--> statement-breakpoint
CREATE TRIGGER `search_project_changed` AFTER UPDATE OF `name`, `description` ON `projects` BEGIN UPDATE `search` SET `title` = new.`name`, `body` = plain_text(new.`description`) WHERE `rowid` = new.`id` * 4 + 2; END;--> statement-breakpoint
CREATE TRIGGER `search_project_removed` AFTER DELETE ON `projects` BEGIN DELETE FROM `search` WHERE `rowid` = old.`id` * 4 + 2; END;--> statement-breakpoint
CREATE TRIGGER `search_client_made` AFTER INSERT ON `clients` BEGIN INSERT INTO `search` (`rowid`, `title`, `body`) VALUES (new.`id` * 4 + 3, new.`name`, new.`short`); END;--> statement-breakpoint
CREATE TRIGGER `search_client_changed` AFTER UPDATE OF `name`, `short` ON `clients` BEGIN UPDATE `search` SET `title` = new.`name`, `body` = new.`short` WHERE `rowid` = new.`id` * 4 + 3; END;--> statement-breakpoint
CREATE TRIGGER `search_client_removed` AFTER DELETE ON `clients` BEGIN DELETE FROM `search` WHERE `rowid` = old.`id` * 4 + 3; END;--> statement-breakpoint
INSERT INTO `search` (`rowid`, `title`, `body`) SELECT `id` * 4, `title`, plain_text(`description`) FROM `tasks`;--> statement-breakpoint
INSERT INTO `search` (`rowid`, `title`, `body`) SELECT `id` * 4 + 1, '', plain_text(`body`) FROM `comments`;--> statement-breakpoint
INSERT INTO `search` (`rowid`, `title`, `body`) SELECT `id` * 4 + 2, `name`, plain_text(`description`) FROM `projects`;--> statement-breakpoint
INSERT INTO `search` (`rowid`, `title`, `body`) SELECT `id` * 4 + 3, `name`, `short` FROM `clients`;--> statement-breakpoint
CREATE TRIGGER `idempotency_aged` AFTER INSERT ON `idempotency` BEGIN DELETE FROM `idempotency` WHERE `rowid` IN (SELECT `rowid` FROM `idempotency` ORDER BY `rowid` LIMIT 20) AND `at` < new.`at` - 172800000; END;
