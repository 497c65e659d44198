-- Work that a worker does for somebody who waits for it: a file read that a browser could not, an order with fewer tool
-- changes. What came out is kept a day, so that the same is not made twice.
drop table imports;
create table asked (
  -- SHA-256 of what is asked, whole
  key text primary key check (key ~ '^[0-9a-f]{64}$'),
  task text not null check (task in ('import', 'order')),
  -- a file that it needs, or a job: it goes with them
  file text references files (hash) on delete cascade,
  job uuid references jobs (id) on delete cascade,
  of jsonb not null check (jsonb_typeof(of) = 'object' and pg_column_size(of) < 8192),
  state text not null check (state in ('waiting', 'made', 'failed')),
  person uuid references people (id) on delete set null,
  asked_at timestamptz not null default now(),
  done_at timestamptz,
  -- why nothing came out
  reason text check (length(reason) <= 2000),
  -- what came out, packed
  result bytea check (octet_length(result) <= 100663296),
  check ((task = 'import') = (file is not null)),
  check ((task = 'order') = (job is not null)),
  check ((state = 'waiting') = (done_at is null)),
  check ((state = 'failed') = (reason is not null)),
  check ((state = 'made') = (result is not null))
);
create index asked_at on asked (asked_at);
create index asked_job on asked (job);
create index asked_file on asked (file);
