ALTER TABLE `people` ADD `managerId` integer REFERENCES people(id);--> statement-breakpoint
ALTER TABLE `people` ADD `standInId` integer REFERENCES people(id);--> statement-breakpoint
ALTER TABLE `timeOff` ADD `half` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `timeOff` ADD `minutes` integer;--> statement-breakpoint
CREATE INDEX `timeOff_by_end` ON `timeOff` (`lastDay`);