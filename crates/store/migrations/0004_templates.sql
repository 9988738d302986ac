-- Sessions kept as a start for others. Their audio, where they keep it, belongs to the account as any other.
create table templates (
    id uuid primary key,
    account_id uuid not null references accounts on delete cascade,
    name text not null,
    purpose text not null,
    document json not null,
    updated_at timestamptz not null default now()
);
create index templates_of_account on templates (account_id, lower(name));
