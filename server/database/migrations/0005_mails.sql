ALTER TABLE `outbox` ADD `change` integer;--> statement-breakpoint
CREATE INDEX `outbox_by_change` ON `outbox` (`change`) WHERE "change" is not null;