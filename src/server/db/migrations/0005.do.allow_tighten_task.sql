--! breaking: no
-- A task may plan the cuts of a tightened song: their joints are chosen by the recording.
alter table task drop constraint task_kind_check;
alter table task add constraint task_kind_check check (kind in ('analyse', 'export', 'clock', 'tighten'));
