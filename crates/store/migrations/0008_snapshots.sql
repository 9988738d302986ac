-- Earlier states of sessions, kept on purpose or by the program: packed documents, and the audio that they need.
create table snapshots (
    id uuid primary key,
    session_id uuid not null references sessions on delete cascade,
    name text not null,
    by_hand boolean not null,
    taken_at timestamptz not null default now(),
    figures json,
    assets text[] not null,
    document bytea not null
);
alter table snapshots alter column document set storage external;
create index snapshots_by_session on snapshots (session_id, taken_at desc);
