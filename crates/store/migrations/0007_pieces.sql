-- A document as rows, one for each of its pieces, so that a change writes what it changed. "order" holds the keys of a list
-- in its order.
create table pieces (
    session_id uuid not null references sessions on delete cascade,
    kind text not null,
    key text not null,
    body json not null,
    primary key (session_id, kind, key)
) with (fillfactor = 80);
alter table pieces alter column body set compression lz4;
-- Found at once, however many steps there are.
create index edits_undone on edits (session_id, position) where undone;
-- What every change writes stands in no index, so that it writes to none.
drop index sessions_by_account;
create index sessions_by_account on sessions (account_id);
alter table sessions set (fillfactor = 80);

-- What stands in documents is kept letter by letter: the first version of a document is read as it was.
insert into pieces
select id, 'top', '', format('{"schema":%s,"next_id":%s,"mix_bus":%s}', document->'schema', document->'next_id',
                             coalesce(document->'mix_bus', '0'::json))::json
from sessions;
insert into pieces select id, field, '', document->field
from sessions, unnest(array['header', 'stem_plan', 'dismissed']) field;

insert into pieces
select s.id, l.kind, coalesce(e.value->>'id', (e.value->>'pattern') || '.' || (e.value->>'voice')), e.value
from sessions s, unnest(array['assets', 'voices', 'strips', 'patterns', 'parts', 'takes', 'sections']) l(kind),
     json_array_elements(s.document->l.kind) e(value)
on conflict do nothing;
insert into pieces
select s.id, 'order', l.kind,
       coalesce((select json_agg(coalesce(e.value->>'id', (e.value->>'pattern') || '.' || (e.value->>'voice'))
                                 order by e.place)
                 from json_array_elements(s.document->l.kind) with ordinality e(value, place)), '[]'::json)
from sessions s, unnest(array['assets', 'voices', 'strips', 'patterns', 'parts', 'takes', 'sections']) l(kind);

alter table sessions drop column document;
