ALTER TABLE `tasks` ADD `firstDue` text;--> statement-breakpoint
ALTER TABLE `tasks` ADD `postponed` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `tasks` ADD `reviewedAt` integer;--> statement-breakpoint
UPDATE `tasks` SET
	`firstDue` = coalesce((SELECT `after` ->> '$.due' FROM `journal` WHERE `entity` = 'tasks' AND `entityId` = `tasks`.`id`
		AND `action` <> 'removed' AND `after` ->> '$.due' IS NOT NULL ORDER BY `change`, `id` LIMIT 1), `due`),
	`postponed` = (SELECT count(*) FROM `journal` WHERE `entity` = 'tasks' AND `entityId` = `tasks`.`id`
		AND `action` = 'changed' AND `after` ->> '$.due' > `before` ->> '$.due');--> statement-breakpoint
UPDATE `views` SET `definition` = carried_view(`definition`);--> statement-breakpoint
UPDATE `rules` SET `definition` = carried_rule(`definition`, (SELECT json_group_array(json_array(`short`, `id`)) FROM `clients`));--> statement-breakpoint
UPDATE `journal` SET
	`before` = carried_row(`entity`, `before`, (SELECT json_group_array(json_array(`short`, `id`)) FROM `clients`)),
	`after` = carried_row(`entity`, `after`, (SELECT json_group_array(json_array(`short`, `id`)) FROM `clients`))
	WHERE `entity` IN ('views', 'rules');
--> statement-breakpoint
INSERT INTO `positions` (`name`, `journalId`) SELECT 'rules', max(`id`) FROM `journal` HAVING max(`id`) IS NOT NULL;
