--! breaking: no
-- Operations are stored with the format of the song they are for, and brought to the newest when they are read. What was
-- stored before is of an unknown one: every step only adds what is missing, so that it is taken from the first on.

alter table song_operation add column format integer not null default 1 check (format >= 1);
