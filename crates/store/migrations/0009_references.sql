-- Recordings that a mix is held against are a piece of its document.
insert into pieces select id, 'references', '', '[]' from sessions on conflict do nothing;
