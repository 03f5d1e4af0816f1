--! breaking: yes
-- Files are kept bit-exact as content-addressed chunks that can be read by range.

create table chunk (
  sha256 bytea primary key check (length(sha256) = 32),
  bytes bytea not null check (length(bytes) between 1 and 1048576)
);
-- Audio does not compress; without the attempt a chunk is written at once.
alter table chunk alter column bytes set storage external;

create table file (
  id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 255),
  media_type text not null,
  byte_length bigint not null check (byte_length > 0),
  sha256 bytea not null check (length(sha256) = 32),
  created_at timestamptz not null default now()
);
create index file_sha256 on file (sha256);

create table file_part (
  file_id uuid not null references file (id) on delete cascade,
  position integer not null check (position >= 0),
  byte_start bigint not null check (byte_start >= 0),
  byte_length integer not null check (byte_length > 0),
  chunk_sha256 bytea not null references chunk (sha256),
  primary key (file_id, position)
);
create index file_part_range on file_part (file_id, byte_start);
create index file_part_chunk on file_part (chunk_sha256);

create table audio (
  id uuid primary key default gen_random_uuid(),
  -- As it was delivered; never changed.
  original_file_id uuid not null references file (id),
  -- What is played: the original, or its copy at the song's sample rate.
  file_id uuid not null references file (id),
  sample_format text not null,
  channels smallint not null check (channels in (1, 2)),
  sample_rate integer not null check (sample_rate between 8000 and 384000),
  frame_bytes smallint not null check (frame_bytes > 0),
  data_start integer not null check (data_start > 0),
  frames bigint not null check (frames > 0),
  converted_from integer,
  peak_dbfs double precision not null,
  created_at timestamptz not null default now()
);

create table audio_peaks (
  audio_id uuid not null references audio (id) on delete cascade,
  frames_per_peak integer not null check (frames_per_peak > 0),
  -- Per channel all pairs of lowest and highest sample, signed bytes.
  peaks bytea not null,
  primary key (audio_id, frames_per_peak)
);
