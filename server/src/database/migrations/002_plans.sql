-- One history for every document of a shot that is edited with undo: its change list and its ID plan.
create table history (
  shot_id uuid not null references shot on delete cascade,
  kind text not null check (kind in ('changes', 'plan')),
  -- Counts every edit, undo and redo; writers must name the one they saw.
  revision integer not null default 0,
  -- The step that is current; steps above it can be redone.
  step integer not null default 0,
  primary key (shot_id, kind)
);
create table history_step (
  shot_id uuid not null,
  kind text not null,
  step integer not null,
  label text not null,
  body jsonb not null,
  created timestamptz not null default now(),
  primary key (shot_id, kind, step),
  foreign key (shot_id, kind) references history on delete cascade
);
insert into history (shot_id, kind, revision, step)
  select id, 'changes', change_revision, change_step from shot;
insert into history_step (shot_id, kind, step, label, body, created)
  select shot_id, 'changes', step, label, list, created from change_step;
drop table change_step;
alter table shot drop column change_revision, drop column change_step;

-- What is in the shot's scene, as the interface and the plan need it.
alter table shot add column scene_outline jsonb, add column scene_problem text;

alter table version drop constraint version_state_check;
alter table version add constraint version_state_check
  check (state in ('receiving', 'reading', 'rendering', 'ready', 'failed'));
alter table version
  -- The plan and the request as they were when the render was asked for.
  add column plan jsonb,
  add column request jsonb,
  -- What each frame really cost.
  add column measured jsonb not null default '[]',
  -- Wishes of the plan with the picks that serve them in this version.
  add column wishes jsonb;

alter table job drop constraint job_kind_check;
alter table job add constraint job_kind_check check (kind in ('ingest', 'render', 'export', 'scene'));
alter table job
  add column frame integer,
  -- Set to end a render with what there is.
  add column keep boolean not null default false,
  -- Counts the looks at the picture so far.
  add column look integer not null default 0,
  -- When it was last put into the queue; null: it has to be again.
  add column queued timestamptz default now();
create index job_by_version on job (version_id);
create table job_look (
  job_id uuid primary key references job on delete cascade,
  png bytea not null
);

alter table file drop constraint file_role_check;
alter table file add constraint file_role_check
  check (role in ('picture', 'sidecar', 'preview', 'scene', 'scene-part', 'result'));
alter table file add column frame integer;
-- A finished frame is never stored twice.
create unique index file_of_frame on file (version_id, frame, name) where role = 'picture' and frame is not null;
