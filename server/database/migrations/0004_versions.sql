CREATE TABLE `__new_templateVersions` (
	`id` integer PRIMARY KEY NOT NULL,
	`templateId` integer NOT NULL,
	`version` integer NOT NULL,
	`definition` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`templateId`) REFERENCES `templates`(`id`) ON UPDATE no action ON DELETE cascade
) STRICT;
--> statement-breakpoint
INSERT INTO `__new_templateVersions`("id", "templateId", "version", "definition", "at") SELECT "id", "templateId", "version", "definition", "at" FROM `templateVersions`;--> statement-breakpoint
DROP TABLE `templateVersions`;--> statement-breakpoint
ALTER TABLE `__new_templateVersions` RENAME TO `templateVersions`;--> statement-breakpoint
CREATE UNIQUE INDEX `templateVersions_once` ON `templateVersions` (`templateId`,`version`);