-- Of the steps of a history most keep only what was different in them; every so many, and the old ones, the whole document.
alter table history_step alter column body drop not null, add column difference jsonb,
  add check (body is not null or difference is not null);
-- How many changes of the list as it is now are not done: the wall of shots tells it.
alter table history add column open_changes integer not null default 0;
update history h set open_changes = (
    select count(*) from history_step c, jsonb_array_elements(c.body->'changes') e
    where c.shot_id = h.shot_id and c.kind = h.kind and c.step = h.step and not (e->>'done')::boolean)
  where kind = 'changes';
