alter table job
  -- What one looks at in a frame while it is rendered: an area, a pass.
  add column attention jsonb,
  -- How many snapshots a frame has published while it was rendered.
  add column snapshot integer not null default 0;
-- A version that can be worked on before it is done: growing while frames are rendered, stopped where one was not finished.
alter table version
  add column unfinished text check (unfinished in ('growing', 'stopped')),
  add column snapshot integer not null default 0;
-- The sums of a frame, so that samples can be added to it later.
alter table file drop constraint file_role_check;
alter table file add constraint file_role_check
  check (role in ('picture', 'sidecar', 'preview', 'preview-large', 'scene', 'scene-part', 'result', 'fill', 'sums'));
-- What short trials of a shot's plans told; those of other scenes and plans have other keys.
create table probe (
  shot_id uuid not null references shot on delete cascade,
  key text not null,
  figures jsonb,
  created timestamptz not null default now(),
  primary key (shot_id, key)
);
