-- The shop's own things: one document each, named by id.
create table machines (
  id text primary key,
  document jsonb not null,
  updated_at timestamptz not null default now()
);
create table tools (
  id text primary key,
  document jsonb not null,
  updated_at timestamptz not null default now()
);
create table materials (
  id text primary key,
  document jsonb not null,
  updated_at timestamptz not null default now()
);
create table dialects (
  id text primary key,
  document jsonb not null,
  updated_at timestamptz not null default now()
);

create table jobs (
  id uuid primary key,
  -- counts edits: the number that an edit must name to be taken
  version integer not null check (version >= 1),
  document jsonb not null,
  -- what the list shows, computed from the document when it is saved
  summary jsonb not null,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now(),
  updated_by text not null,
  deleted_at timestamptz
);
create index jobs_updated on jobs (updated_at desc) where deleted_at is null;

create table revisions (
  job_id uuid not null references jobs (id),
  version integer not null,
  -- named by the sender, so that an edit sent twice counts once
  edit_id uuid not null,
  diff jsonb not null,
  -- the whole document now and then, so that history need not be replayed from the start
  snapshot jsonb,
  author text not null,
  label text not null default '',
  created_at timestamptz not null default now(),
  primary key (job_id, version),
  unique (job_id, edit_id)
);
