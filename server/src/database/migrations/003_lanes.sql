alter table job
  -- How often it was begun. An orderly stop of the worker does not count.
  add column tries integer not null default 0,
  -- Who has it now: a worker that lost it (asleep, cut off) can write nothing about it any more.
  add column claim uuid;
-- Kinds of job are the server's business, not the table's.
alter table job drop constraint job_kind_check;

-- Files of a job that is not over: nobody sees them, and they go if it fails.
alter table file add column arriving boolean not null default false;
drop index file_of_frame;
create unique index file_of_frame on file (version_id, frame, name)
  where role = 'picture' and frame is not null and not arriving;
create index file_by_job on file (job_id) where job_id is not null;

-- A shot that is still being put together, out of sight until it is whole.
alter table shot add column arriving boolean not null default false;
