DROP TABLE `idempotency`;--> statement-breakpoint
CREATE TABLE `idempotency` (
	`id` text PRIMARY KEY NOT NULL,
	`request` text NOT NULL,
	`answer` text NOT NULL,
	`at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE INDEX `idempotency_by_time` ON `idempotency` (`at`);