-- What opening a frame would have to compute again: made once, by the sums of the frame's files, never trusted over them.
create table prepared (
  version_id uuid not null references version on delete cascade,
  -- Of the files that make the frame, in their order.
  sums text not null,
  layer text not null,
  what text not null check (what in ('index', 'areas')),
  -- Counts up when the bytes, or what they mean, change.
  format integer not null,
  bytes bytea not null,
  size integer not null,
  -- When it was last asked for: the oldest go first.
  used timestamptz not null default now(),
  primary key (version_id, sums, layer, what, format)
);
alter table prepared alter column bytes set storage external;
create index prepared_by_use on prepared (used);

-- The picture large enough to stand in for the pixels until they are there.
alter table file drop constraint file_role_check;
alter table file add constraint file_role_check
  check (role in ('picture', 'sidecar', 'preview', 'preview-large', 'scene', 'scene-part', 'result'));
