--! breaking: no
-- Chains that are kept under a name of one's own, for all songs.

create table kept_chain (
  id uuid primary key default gen_random_uuid(),
  name text not null unique check (length(name) between 1 and 60),
  -- Processors that one may move, in their order, as songs of this format hold them.
  chain jsonb not null,
  format integer not null check (format >= 1),
  created_at timestamptz not null default now()
);
