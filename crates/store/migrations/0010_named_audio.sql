-- The audio that steps, templates and renders need, as whoever writes them knows it. A session's is named by the keys of its
-- pieces of kind 'assets'. What was written before is filled in from its text, where addresses are the only words of 64
-- hexadecimal digits.
alter table edits add column audio text[] not null default '{}';
alter table templates add column audio text[] not null default '{}';
alter table renders add column audio text[] not null default '{}';

update edits set audio = array(select distinct (regexp_matches(there::text || back::text, '"([0-9a-f]{64})"', 'g'))[1]);
update templates set audio = array(select distinct (regexp_matches(document::text, '"([0-9a-f]{64})"', 'g'))[1]);
update renders set audio = array(select distinct (regexp_matches(document::text, '"([0-9a-f]{64})"', 'g'))[1])
    where state in ('queued', 'running');
