-- Processors and chains kept by a person, to be used in any session.
create table presets (
    id uuid primary key,
    account_id uuid not null references accounts on delete cascade,
    name text not null,
    processors json not null,
    updated_at timestamptz not null default now()
);
create index presets_of_account on presets (account_id, lower(name));
