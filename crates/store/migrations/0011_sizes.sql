-- How many bytes of patches each step and each change has, so that what is read is bounded before it is read.

alter table edits add column bytes bigint not null default 0;
alter table changes add column bytes bigint not null default 0;

update edits set bytes = octet_length(there::text) + octet_length(back::text);
update changes c set bytes = octet_length(c.patch::text) + coalesce(
    (select octet_length(e.back::text) from edits e where c.kind = 'edit' and e.session_id = c.session_id and e.id = c.step), 0)
    where c.patch is not null;

-- What steps and changes of a session take together: added to with each change, counted anew as they are swept.
alter table sessions add column history_bytes bigint not null default 0;
update sessions s set history_bytes =
    coalesce((select sum(e.bytes) from edits e where e.session_id = s.id), 0)
    + coalesce((select sum(c.bytes) from changes c where c.session_id = s.id), 0);
alter table snapshots add column bytes bigint generated always as (octet_length(document)) stored;

-- Programs that work on renders, and when each was heard of last.
create table workers (
    id uuid primary key,
    seen_at timestamptz not null default now()
);
