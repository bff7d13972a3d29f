ALTER TABLE `alarms` ADD `after` text;--> statement-breakpoint
-- What stands still has alarms too: ladders that are on are put up over it. By its number each of
-- these is older than all alarms, which therefore stay as they are.
insert into `alarms` (`id`, `at`, `kind`, `key`, `itemKind`, `itemId`)
select -`id`, 0, 'placing', 'placing:' || `id`, 'rule', `id` from `rules`
where `on` = 1 and `pausedBecause` is null;
