-- The house: who works here, what they may, what they did, and rules that the tables hold by themselves.

create table shop (
  single boolean primary key default true check (single),
  name text not null default 'Marrow Lane Loomworks' check (length(name) between 1 and 120),
  -- the demo shop shows its password at the sign-in
  demo boolean not null default false,
  -- names this database: a copied checkout must never take another's for its own
  identity uuid not null default gen_random_uuid(),
  -- SHA-256 of the code with which the first administrator is named; null once there is one
  first_code bytea check (octet_length(first_code) = 32)
);

create table people (
  id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 80 and name = btrim(name)),
  -- scrypt, with its salt and cost
  password text not null check (length(password) between 40 and 400),
  rights text[] not null check (rights <@ array['view', 'program', 'release', 'administer'] and 'view' = any (rights)),
  preferences jsonb not null default '{}' check (jsonb_typeof(preferences) = 'object' and pg_column_size(preferences) < 4096),
  active boolean not null default true,
  created_at timestamptz not null default now(),
  password_at timestamptz not null default now()
);
create unique index people_name on people (lower(name));

create table sessions (
  -- SHA-256 of the token that only the browser holds
  token bytea primary key check (octet_length(token) = 32),
  person uuid not null references people (id) on delete cascade,
  created_at timestamptz not null default now(),
  seen_at timestamptz not null default now(),
  address text not null default '' check (length(address) <= 64),
  agent text not null default '' check (length(agent) <= 200)
);
create index sessions_person on sessions (person);

-- wrong passwords, by name and by address, so that all servers of a shop count together
create table refusals (
  key text primary key check (length(key) <= 200),
  count integer not null,
  last_at timestamptz not null default now()
);

create table audit (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  person uuid references people (id) on delete set null,
  -- the name as it was then
  name text not null check (length(name) <= 120),
  address text not null default '' check (length(address) <= 64),
  action text not null check (length(action) <= 60),
  subject text not null default '' check (length(subject) <= 300),
  job uuid,
  detail jsonb not null default '{}' check (pg_column_size(detail) < 8192)
);
create index audit_person on audit (person, id desc);
create index audit_job on audit (job, id desc);
create index audit_action on audit (action, id desc);

-- who has which job open, tab by tab
create table presence (
  tab uuid primary key,
  job uuid not null references jobs (id) on delete cascade,
  person uuid not null references people (id) on delete cascade,
  seen_at timestamptz not null default now()
);
create index presence_job on presence (job);

alter table jobs
  add column labels text[] not null default '{}'
    check (cardinality(labels) <= 12 and coalesce(length(array_to_string(labels, '')), 0) <= 400),
  -- what a search looks into
  add column words text generated always as (lower(
    coalesce(summary ->> 'number', '') || ' ' || coalesce(summary ->> 'name', '') || ' ' ||
    coalesce(summary ->> 'machine', '') || ' ' || coalesce(summary ->> 'material', ''))) stored,
  add constraint jobs_document_is_a_job check ((
    jsonb_typeof(document) = 'object' and document ->> 'format' = 'lively-spindle-job'
    and jsonb_typeof(document -> 'version') = 'number') is true),
  add constraint jobs_document_size check (pg_column_size(document) <= 8388608),
  add constraint jobs_summary_is_one check (jsonb_typeof(summary) = 'object' and pg_column_size(summary) <= 1048576),
  add constraint jobs_author check (length(updated_by) between 1 and 120);

alter table revisions
  -- what somebody called it; a named one is never thinned
  add column name text check (length(name) between 1 and 120),
  add column named_by text check (length(named_by) <= 120),
  add column released_at timestamptz,
  add column person uuid references people (id) on delete set null,
  add constraint revisions_diff_is_one check (jsonb_typeof(diff) = 'object' and pg_column_size(diff) <= 8388608),
  add constraint revisions_snapshot_is_a_job check (
    snapshot is null or (jsonb_typeof(snapshot) = 'object' and snapshot ->> 'format' = 'lively-spindle-job') is true),
  add constraint revisions_author check (length(author) between 1 and 120),
  add constraint revisions_label check (length(label) <= 200),
  add constraint revisions_version check (version >= 1);
create index revisions_at on revisions (created_at);

-- a job always stands at a revision that is there
alter table jobs add constraint jobs_stand_at_a_revision
  foreign key (id, version) references revisions (job_id, version) deferrable initially deferred;

create function job_versions_grow() returns trigger language plpgsql as $$
begin
  if new.version < old.version or (new.document is distinct from old.document and new.version <> old.version + 1) then
    raise exception 'job %: version % does not follow %', old.id, new.version, old.version using errcode = '23514';
  end if;
  return new;
end $$;
create trigger job_versions_grow before update of version, document on jobs
  for each row execute function job_versions_grow();

alter table files
  add column person uuid references people (id) on delete set null,
  add constraint files_match_their_hash check (encode(sha256(bytes), 'hex') = hash),
  add constraint files_size check (octet_length(bytes) <= 34603008),
  add constraint files_name check (length(name) <= 400);
create index files_person on files (person, created_at);
