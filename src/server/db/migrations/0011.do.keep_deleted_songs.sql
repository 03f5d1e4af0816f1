--! breaking: no
-- A deleted song can be brought back until it is swept.

alter table song add column deleted_at timestamptz;
