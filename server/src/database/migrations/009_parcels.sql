-- What is handed over: a document of the shot, its runs, and the files that came of them.
alter table history drop constraint history_kind_check;
alter table history add constraint history_kind_check check (kind in ('changes', 'plan', 'parcels'));
alter table named_state drop constraint named_state_kind_check;
alter table named_state add constraint named_state_kind_check check (kind in ('changes', 'plan', 'parcels'));

create table parcel_run (
  id uuid primary key default gen_random_uuid(),
  shot_id uuid not null references shot on delete cascade,
  version_id uuid not null references version on delete cascade,
  -- The parcels and the change list as they were.
  body jsonb not null,
  created timestamptz not null default now(),
  ended timestamptz
);
create index parcel_run_by_shot on parcel_run (shot_id, created desc);

create table parcel_file (
  id bigint generated always as identity primary key,
  run_id uuid not null references parcel_run on delete cascade,
  parcel text not null,
  variant text not null,
  frame integer,
  -- A sum of all that the file was made from.
  key text not null,
  name text not null,
  file_id uuid references file on delete set null,
  size bigint not null,
  sha256 text not null,
  -- It was there already, from an earlier run.
  reused boolean not null
);
create index parcel_file_by_run on parcel_file (run_id);
create index parcel_file_by_key on parcel_file (key);
create index parcel_file_by_file on parcel_file (file_id);
