-- Releases: a revision with the very programs that went to the machine, posted and proved by a worker.
create table releases (
  job_id uuid not null,
  version integer not null,
  state text not null check (state in ('waiting', 'released', 'refused')),
  -- who asked for it; the audit list gets the same
  person uuid references people (id) on delete set null,
  name text not null check (length(name) between 1 and 120),
  address text not null default '' check (length(address) <= 64),
  asked_at timestamptz not null default now(),
  done_at timestamptz,
  -- why it was refused
  reason text check (length(reason) <= 2000),
  -- what the proof measured
  proof jsonb check (jsonb_typeof(proof) = 'object' and pg_column_size(proof) < 8192),
  primary key (job_id, version),
  foreign key (job_id, version) references revisions (job_id, version) on delete cascade,
  check ((state = 'waiting') = (done_at is null)),
  check ((state = 'refused') = (reason is not null)),
  check ((state = 'released') = (proof is not null))
);

create table released_programs (
  job_id uuid not null,
  version integer not null,
  -- order in which they are run and read
  place integer not null check (place >= 0),
  name text not null check (length(name) between 1 and 200),
  -- SHA-256 of the text: what the machine runs can be held against it
  hash text not null check (hash = encode(sha256(convert_to(text, 'UTF8')), 'hex')),
  text text not null check (length(text) <= 33554432),
  primary key (job_id, version, place),
  foreign key (job_id, version) references releases (job_id, version) on delete cascade
);
