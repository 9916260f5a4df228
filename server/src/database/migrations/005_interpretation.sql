-- What the artist knows better than the files tell: which layers are the picture, encodings, places, masks of channels.
alter table version add column interpretation jsonb not null default '{}';

-- Since when a file is no part of its version any more: another one took its place, or it was taken out. Kept, so that it
-- can be brought back.
alter table file add column retired timestamptz;
drop index file_of_frame;
create unique index file_of_frame on file (version_id, frame, name)
  where role = 'picture' and frame is not null and not arriving and retired is null;

-- Files that are dropped again are known by their sums.
create index file_by_sum on file (size, sha256) where role in ('picture', 'sidecar');
