-- When the last byte for a version arrived: what nothing arrives for is given up.
alter table version add column heard timestamptz not null default now();
