--! breaking: no
-- Numbered states of a song that somebody named, whole, so that they outlive the history of changes.

create table revision (
  song_id uuid not null references song (id) on delete cascade,
  number integer not null check (number > 0),
  name text not null check (length(name) between 1 and 80),
  note text not null default '' check (length(note) <= 2000),
  -- What changed since the revision before, in words.
  changes jsonb not null,
  document jsonb not null,
  format integer not null check (format >= 1),
  created_at timestamptz not null default now(),
  primary key (song_id, number)
);
