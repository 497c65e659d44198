-- Files that parts were brought in from, each once, named by the SHA-256 of its bytes.
create table files (
  hash text primary key check (hash ~ '^[0-9a-f]{64}$'),
  name text not null,
  bytes bytea not null,
  created_at timestamptz not null default now()
);
