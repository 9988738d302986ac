-- Samples that an account brought in, with what a search needs. The audio itself stands once in assets.
create table library_sounds (
    account_id uuid not null,
    asset_id text not null,
    name text not null,
    family text not null,
    peak_dbfs double precision not null,
    pitch_hz double precision,
    added_at timestamptz not null default now(),
    primary key (account_id, asset_id),
    foreign key (account_id, asset_id) references asset_owners on delete cascade
);
create index library_by_name on library_sounds (account_id, lower(name));
