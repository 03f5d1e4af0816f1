--! breaking: yes
-- Long work as its owner sees it. The queue itself is pg-boss's own schema; a task outlives the job that carries it.

create table task (
  id uuid primary key default gen_random_uuid(),
  song_id uuid not null references song (id) on delete cascade,
  kind text not null check (kind in ('analyse', 'export')),
  options jsonb not null default '{}',
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  progress double precision not null default 0 check (progress between 0 and 1),
  message text not null default '',
  result jsonb,
  cancel_requested boolean not null default false,
  attempts integer not null default 0,
  heartbeat_at timestamptz,
  created_at timestamptz not null default now(),
  finished_at timestamptz
);
create index task_song on task (song_id, created_at desc);
create index task_open on task (heartbeat_at) where state = 'running';
