--! breaking: no
-- A task may correct the clock of a recorder.
alter table task drop constraint task_kind_check;
alter table task add constraint task_kind_check check (kind in ('analyse', 'export', 'clock'));
