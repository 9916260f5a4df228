-- States of a document that were given a name, to be gone back to.
create table named_state (
  id uuid primary key default gen_random_uuid(),
  shot_id uuid not null references shot on delete cascade,
  kind text not null check (kind in ('changes', 'plan')),
  name text not null,
  body jsonb not null,
  created timestamptz not null default now()
);
create index named_state_by_shot on named_state (shot_id, kind, created);
