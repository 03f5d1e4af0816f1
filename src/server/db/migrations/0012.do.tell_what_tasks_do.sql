--! breaking: no
-- A task tells what it does now, beside how far it is.

alter table task add column doing text not null default '';
