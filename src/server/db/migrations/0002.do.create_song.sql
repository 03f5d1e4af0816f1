--! breaking: yes
-- A song is one document, edited by stored operations that have inverses.

create table song (
  id uuid primary key default gen_random_uuid(),
  title text not null check (length(title) between 1 and 200),
  -- Grows with every change, undo included; a tab that holds an older one is told.
  version integer not null default 0 check (version >= 0),
  -- The last operation that is in force; those above it can be done again.
  position integer not null default 0 check (position >= 0),
  document jsonb not null,
  -- What the analysis measured beyond the document; null until it ran.
  facts jsonb,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now()
);

create table song_operation (
  song_id uuid not null references song (id) on delete cascade,
  position integer not null check (position > 0),
  label text not null check (length(label) between 1 and 200),
  operation jsonb not null,
  inverse jsonb not null,
  created_at timestamptz not null default now(),
  primary key (song_id, position)
);

create table song_audio (
  song_id uuid not null references song (id) on delete cascade,
  audio_id uuid not null references audio (id),
  primary key (song_id, audio_id)
);
create index song_audio_audio on song_audio (audio_id);
