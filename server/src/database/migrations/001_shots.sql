create table shot (
  id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 200),
  created timestamptz not null default now(),
  edited timestamptz not null default now(),
  deleted timestamptz,
  -- Counts every change of the change list, undo and redo included; writers must name the one they saw.
  change_revision integer not null default 0,
  -- The step of the history that is current; steps above it can be redone.
  change_step integer not null default 0
);

create table version (
  id uuid primary key default gen_random_uuid(),
  shot_id uuid not null references shot on delete cascade,
  number integer not null,
  source text not null check (source in ('import', 'render')),
  state text not null check (state in ('receiving', 'reading', 'ready', 'failed')),
  problem text,
  width integer,
  height integer,
  -- ID layers and findings, as the interface lists them before the pixels are there.
  summary jsonb,
  created timestamptz not null default now(),
  unique (shot_id, number)
);

create table change_step (
  shot_id uuid not null references shot on delete cascade,
  step integer not null,
  label text not null,
  list jsonb not null,
  created timestamptz not null default now(),
  primary key (shot_id, step)
);

create table job (
  id uuid primary key default gen_random_uuid(),
  kind text not null check (kind in ('ingest', 'render', 'export')),
  shot_id uuid not null references shot on delete cascade,
  version_id uuid references version on delete cascade,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
  progress real not null default 0,
  message text not null default '',
  input jsonb not null,
  result jsonb,
  created timestamptz not null default now(),
  started timestamptz,
  ended timestamptz,
  -- The worker signs in here while it runs; a job whose worker was killed is taken up again.
  seen timestamptz
);
create index job_by_shot on job (shot_id, created desc);
create index job_by_state on job (state) where state in ('waiting', 'running');

create table file (
  id uuid primary key default gen_random_uuid(),
  shot_id uuid not null references shot on delete cascade,
  version_id uuid references version on delete cascade,
  job_id uuid references job on delete cascade,
  role text not null check (role in ('picture', 'sidecar', 'preview', 'scene', 'result')),
  name text not null,
  media_type text not null,
  size bigint not null,
  sha256 text not null,
  created timestamptz not null default now()
);
create index file_by_shot on file (shot_id);
create index file_by_version on file (version_id);

create table file_chunk (
  file_id uuid not null references file on delete cascade,
  number integer not null,
  bytes bytea not null,
  primary key (file_id, number)
);
-- Pixels do not compress twice; external storage also spares the attempt.
alter table file_chunk alter column bytes set storage external;
