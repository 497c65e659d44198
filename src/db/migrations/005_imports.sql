-- Files that a worker reads into a part because a browser could not: kept a day, so that the same file with the same wishes is read once.
create table imports (
  -- SHA-256 of file, kind and wishes
  key text primary key check (key ~ '^[0-9a-f]{64}$'),
  hash text not null references files (hash) on delete cascade,
  kind text not null check (kind in ('step', 'stl', 'dxf')),
  wishes jsonb not null check (jsonb_typeof(wishes) = 'object' and pg_column_size(wishes) < 8192),
  state text not null check (state in ('waiting', 'made', 'failed')),
  person uuid references people (id) on delete set null,
  asked_at timestamptz not null default now(),
  done_at timestamptz,
  -- why it could not be read
  reason text check (length(reason) <= 2000),
  -- what came out, packed
  result bytea check (octet_length(result) <= 100663296),
  check ((state = 'waiting') = (done_at is null)),
  check ((state = 'failed') = (reason is not null)),
  check ((state = 'made') = (result is not null))
);
create index imports_asked on imports (asked_at);
