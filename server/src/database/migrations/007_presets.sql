-- Corrections with their values under a name, to be used again in any shot; as in a change list of that version.
create table preset (
  id uuid primary key default gen_random_uuid(),
  name text not null,
  corrections jsonb not null,
  version int not null,
  created timestamptz not null default now()
);
