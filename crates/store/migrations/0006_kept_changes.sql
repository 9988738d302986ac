-- What the list of sessions shows stands beside the document, so that the list reads no documents.
alter table sessions
    add column voices integer not null default 0,
    add column tempo_bpm double precision not null default 0,
    add column audio_bytes bigint not null default 0;
update sessions set
    voices = json_array_length(document->'voices'),
    tempo_bpm = (document->'header'->>'tempo_bpm')::float8,
    audio_bytes = coalesce(
        (select sum((a->>'frames')::bigint * (a->>'channels')::bigint * 4)
         from json_array_elements(document->'assets') a), 0);

-- A step of undo has an id of its own, under which it is taken back, and words that say what it did.
alter table edits
    add column id uuid not null default gen_random_uuid(),
    add column label text not null default 'an earlier change';
create unique index edits_by_id on edits (session_id, id);

-- Every change that was accepted, by the revision that it gave and by the id that its author gave it. The id stays for
-- ever, so that a change that is sent again is known; what it did stays for a while.
create table changes (
    session_id uuid not null references sessions on delete cascade,
    revision bigint not null,
    id uuid not null,
    kind text not null check (kind in ('edit', 'undo', 'redo')),
    -- The step that was made, undone or done again.
    step uuid not null,
    label text not null,
    patch json,
    made json,
    primary key (session_id, revision),
    unique (session_id, id)
);
alter table changes alter column patch set compression lz4;

-- The queue of renders is their table: who works on one, since when, when it was last heard of.
alter table renders
    add column worker uuid,
    add column started_at timestamptz,
    add column heartbeat_at timestamptz,
    add column not_before timestamptz not null default now(),
    add column deaths integer not null default 0,
    add column faults integer not null default 0,
    add column bytes bigint not null default 0;
update renders set bytes = coalesce((select sum(f.bytes) from render_files f where f.render_id = renders.id), 0);
create index renders_waiting on renders (created_at) where state in ('queued', 'running');
create index renders_by_session on renders (session_id, version desc);

-- When audio was last brought in or used anew; what nothing needs goes some days after that.
alter table asset_owners add column touched_at timestamptz not null default now();
create index asset_owners_by_asset on asset_owners (asset_id);

-- The queue of earlier programs, whose jobs are the renders that still wait.
drop schema if exists apalis cascade;
