create table accounts (
    id uuid primary key,
    email text not null unique check (email = lower(email)),
    password_hash text not null,
    created_at timestamptz not null default now()
);

-- Who is signed in; the key is a hash of what the cookie holds.
create table logins (
    key_hash text primary key,
    state json not null,
    expires_at timestamptz not null
);
create index logins_by_expiry on logins (expires_at);

create table sessions (
    id uuid primary key,
    account_id uuid not null references accounts on delete cascade,
    title text not null,
    document json not null,
    revision bigint not null default 1,
    renders_started integer not null default 0,
    created_at timestamptz not null default now(),
    updated_at timestamptz not null default now()
);
create index sessions_by_account on sessions (account_id, updated_at desc);

-- The way of a document: applied edits, then undone ones that can be done again.
create table edits (
    session_id uuid not null references sessions on delete cascade,
    position bigint not null,
    edit json not null,
    there json not null,
    back json not null,
    undone boolean not null default false,
    made_at timestamptz not null default now(),
    primary key (session_id, position)
);

-- Audio, each piece once, by the address of its contents.
create table assets (
    id text primary key,
    channels smallint not null,
    sample_rate integer not null,
    frames integer not null
);
create table asset_chunks (
    asset_id text not null references assets on delete cascade,
    position integer not null,
    data bytea not null,
    primary key (asset_id, position)
);
alter table asset_chunks alter column data set storage external;
create table asset_owners (
    account_id uuid not null references accounts on delete cascade,
    asset_id text not null references assets,
    name text not null,
    added_at timestamptz not null default now(),
    primary key (account_id, asset_id)
);

create table renders (
    id uuid primary key,
    session_id uuid not null references sessions on delete cascade,
    account_id uuid not null references accounts on delete cascade,
    version integer not null,
    document json not null,
    state text not null default 'queued' check (state in ('queued', 'running', 'done', 'failed', 'cancelled')),
    attempts integer not null default 0,
    frames_done bigint not null default 0,
    frames_total bigint not null,
    reason text,
    report json,
    created_at timestamptz not null default now(),
    finished_at timestamptz,
    unique (session_id, version)
);

-- Files of a render; visible once the render is done.
create table render_files (
    render_id uuid not null references renders on delete cascade,
    position integer not null,
    name text not null,
    bytes bigint not null,
    sha256 text not null,
    primary key (render_id, position)
);
create table render_chunks (
    render_id uuid not null references renders on delete cascade,
    file_position integer not null,
    position integer not null,
    data bytea not null,
    primary key (render_id, file_position, position)
);
alter table render_chunks alter column data set storage external;
