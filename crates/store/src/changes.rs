//! Changes of sessions: each exactly once, by the id that its author gave it.
//!
//! A change is computed without a connection ([`crate::documents`]) and written only where the document still stands at
//! the revision that it was computed on; nothing is locked meanwhile.

use crate::documents::{Kind, Prepared, Step, Way};
use crate::row::row;
use crate::sessions::columns;
use crate::{CHANGES, Store, StoreError, found};
use uuid::Uuid;

/// Edits that can be undone at most; older ones are forgotten.
const UNDO_STEPS: i64 = 1000;
/// Changes whose patches are kept for other pages and for those that are sent again.
const KEPT_PATCHES: i64 = 1000;

/// A change that went through.
#[derive(Debug, Clone, PartialEq)]
pub struct Done {
    pub id: Uuid,
    pub revision: i64,
    /// `edit`, `undo` or `redo`.
    pub kind: String,
    /// The step that was made, undone or done again.
    pub step: Uuid,
    pub label: String,
    /// JSON; none where it was made too long ago.
    pub patch: Option<String>,
    /// The way back of an edit, JSON; none where it is not known any more.
    pub back: Option<String>,
    /// What it made, JSON.
    pub made: Option<String>,
}
row!(Done { id, revision, kind, step, label, patch, back, made });

/// Changes with all that they did.
const DONE: &str = "select c.id, c.revision, c.kind, c.step, c.label, c.patch::text as patch, c.made::text as made,
            e.back::text as back
     from changes c left join edits e on c.kind = 'edit' and e.session_id = c.session_id and e.id = c.step";

/// A step that is looked for: 1 session, 2 how many, 3 bytes of patches, of which older steps get none.
const UNDO: &str = "
    select id, label, case when upto <= $3 then there::text end as there, case when upto <= $3 then back::text end as back
    from (select *, sum(bytes) over (order by position desc)::bigint as upto from (
        select * from edits where session_id = $1 and not undone order by position desc limit $2) newest) summed
    order by position desc";
const REDO: &str = "
    select id, label, case when upto <= $3 then there::text end as there, case when upto <= $3 then back::text end as back
    from (select *, sum(bytes) over (order by position)::bigint as upto from (
        select * from edits where session_id = $1 and undone order by position limit $2) next) summed
    order by position";

impl Store {
    /// A change that went through already, by its id.
    pub async fn change(&self, session: Uuid, id: Uuid) -> Result<Option<Done>, StoreError> {
        self.ask(async |c| {
            Ok(sqlx::query_as(sqlx::AssertSqlSafe(format!("{DONE} where c.session_id = $1 and c.id = $2")))
                .bind(session)
                .bind(id)
                .fetch_optional(c)
                .await?)
        })
        .await
    }

    /// Those of some changes that went through, in their order, with what they made, without their patches. The session must
    /// be the account's.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it is not.
    pub async fn changes_known(&self, account: Uuid, session: Uuid, ids: &[Uuid]) -> Result<Vec<Done>, StoreError> {
        self.revision(account, session).await?;
        self.ask(async |c| {
            Ok(sqlx::query_as(
                "select id, revision, kind, step, label, made::text as made, null as patch, null as back
                 from changes where session_id = $1 and id = any($2) order by revision",
            )
            .bind(session)
            .bind(ids)
            .fetch_all(c)
            .await?)
        })
        .await
    }

    /// The newest steps that can be undone, and those that can be done again, the next one first.
    ///
    /// * `most` – of each.
    /// * `bytes` – of patches, of each; steps behind those have none.
    pub async fn steps(&self, session: Uuid, most: i64, bytes: i64) -> Result<(Vec<Step>, Vec<Step>), StoreError> {
        self.ask(async |c| {
            let undo = sqlx::query_as(UNDO).bind(session).bind(most).bind(bytes).fetch_all(&mut *c).await?;
            let redo = sqlx::query_as(REDO).bind(session).bind(most).bind(bytes).fetch_all(&mut *c).await?;
            Ok((undo, redo))
        })
        .await
    }

    /// The step that is undone next, or done again next, whole.
    pub async fn next_step(&self, session: Uuid, way: Way) -> Result<Option<Step>, StoreError> {
        let sql = match way {
            Way::Undo => UNDO,
            Way::Redo => REDO,
        };
        self.ask(async |c| Ok(sqlx::query_as(sql).bind(session).bind(1_i64).bind(i64::MAX).fetch_optional(c).await?))
            .await
    }

    /// A step, whole. The session must be the account's.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where it is not, or the step is forgotten.
    pub async fn step(&self, account: Uuid, session: Uuid, id: Uuid) -> Result<Step, StoreError> {
        self.revision(account, session).await?;
        let step = self
            .ask(async |c| {
                Ok(sqlx::query_as(
                    "select id, label, there::text as there, back::text as back from edits
                     where session_id = $1 and id = $2",
                )
                .bind(session)
                .bind(id)
                .fetch_optional(c)
                .await?)
            })
            .await?;
        found(step, "the step")
    }

    /// The changes behind a revision, in their order: the first of them, up to a number and about so many bytes of patches.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the session is not the account's, or they were made too long ago.
    pub async fn changes_after(
        &self,
        account: Uuid,
        session: Uuid,
        revision: i64,
        most: i64,
        bytes: i64,
    ) -> Result<Vec<Done>, StoreError> {
        let newest = self.revision(account, session).await?;
        let done: Vec<Done> = self
            .ask(async |c| {
                // Each that begins within the bytes, so that there is always one.
                let sql = format!(
                    "{DONE} join (
                         select revision, sum(bytes) over (order by revision)::bigint - bytes as before from (
                             select revision, bytes from changes
                             where session_id = $1 and revision > $2 and patch is not null order by revision limit $3) next
                     ) held on held.revision = c.revision and held.before < $4
                     where c.session_id = $1 order by c.revision"
                );
                Ok(sqlx::query_as(sqlx::AssertSqlSafe(sql))
                    .bind(session)
                    .bind(revision)
                    .bind(most)
                    .bind(bytes)
                    .fetch_all(c)
                    .await?)
            })
            .await?;
        let all = done.first().map_or(newest <= revision, |first| first.revision == revision + 1);
        found(all.then_some(done), "the change")
    }

    /// Writes a change where the session still stands as it was when the change was computed.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where it does not, or a step is not the next one any more.
    pub async fn commit(&self, account: Uuid, session: Uuid, change: Prepared) -> Result<Done, StoreError> {
        let Prepared { id, base, after, line, pieces, kind, patch, label, made, audio } = change;
        let (gone_kinds, gone_keys): (Vec<String>, Vec<String>) = pieces.gone.into_iter().unzip();
        let (kinds, keys, bodies) = columns(pieces.set);
        let (what, step, back) = match kind {
            Kind::Edit { back } => ("edit", id, Some(back)),
            Kind::Walk { way: Way::Undo, step } => ("undo", step, None),
            Kind::Walk { way: Way::Redo, step } => ("redo", step, None),
        };
        let bytes = (patch.len() + back.as_ref().map_or(0, String::len)) as i64;
        let written = self
            .ask_for(bytes as usize + bodies.iter().map(String::len).sum::<usize>(), async |c| {
                Ok(sqlx::query(COMMIT)
                    .bind(session)
                    .bind(account)
                    .bind(base)
                    .bind(&line.title)
                    .bind(line.voices)
                    .bind(line.tempo_bpm)
                    .bind(line.audio_bytes)
                    .bind(&gone_kinds)
                    .bind(&gone_keys)
                    .bind(&kinds)
                    .bind(&keys)
                    .bind(&bodies)
                    .bind(what)
                    .bind(step)
                    .bind(&label)
                    .bind(&patch)
                    .bind(&back)
                    .bind(id)
                    .bind(&made)
                    .bind(UNDO_STEPS)
                    .bind(KEPT_PATCHES)
                    .bind(CHANGES)
                    .bind(&audio)
                    .bind(bytes)
                    .execute(c)
                    .await?
                    .rows_affected())
            })
            .await?;
        if written == 0 {
            return Err(StoreError::Stale);
        }
        let revision = base + 1;
        self.known.put(session, revision, after);
        let (patch, made) = (Some(patch), Some(made));
        Ok(Done { id, revision, kind: what.into(), step, label, patch, back, made })
    }
}

/// All that a change writes, in one statement: it happens where the session still stands at the revision and the step is the
/// next one, or not at all.
///
/// 1 session, 2 account, 3 revision; 4 to 7 what the list shows; 8 and 9 pieces that go; 10 to 12 pieces as they are now; 13
/// kind, 14 step, 15 label, 16 patch, 17 way back of an edit; 18 id, 19 what was made; 20 and 21 bounds; 22 where it is told; 23 audio
/// that is named, 24 bytes of patches.
const COMMIT: &str = "
    with moved as (
        update sessions set title = $4, voices = $5, tempo_bpm = $6, audio_bytes = $7, revision = $3 + 1, updated_at = now(),
            history_bytes = history_bytes + $24 * case $13 when 'edit' then 2 else 1 end
        where id = $1 and account_id = $2 and revision = $3 and case $13
            when 'undo' then $14 = (select id from edits where session_id = $1 and not undone order by position desc limit 1)
            when 'redo' then $14 = (select id from edits where session_id = $1 and undone order by position limit 1)
            else true end
        returning id
    ), gone as (
        delete from pieces p using moved, unnest($8::text[], $9::text[]) g(kind, key)
        where p.session_id = moved.id and p.kind = g.kind and p.key = g.key
    ), set_to as (
        insert into pieces (session_id, kind, key, body)
        select moved.id, p.kind, p.key, p.body::json
        from moved, unnest($10::text[], $11::text[], $12::text[]) p(kind, key, body)
        on conflict (session_id, kind, key) do update set body = excluded.body
    ), last as (
        select coalesce(max(position), 0) as position from edits where session_id = $1 and not undone
    ), cut as (
        delete from edits e using moved where $13 = 'edit' and e.session_id = moved.id and e.undone
        returning e.position
    ), forgotten as (
        delete from edits e using moved, last
        where $13 = 'edit' and e.session_id = moved.id and e.position <= last.position + 1 - $20 and not e.undone
    ), step as (
        insert into edits (session_id, position, id, label, there, back, audio, bytes)
        select moved.id, last.position + 1, $14, $15, $16::json, $17::json, $23, $24
        -- Counted, so that the place of what is cut is free by then.
        from moved, last, (select count(*) from cut) free where $13 = 'edit'
    ), walked as (
        update edits e set undone = ($13 = 'undo') from moved
        where $13 <> 'edit' and e.session_id = moved.id and e.id = $14
    ), noted as (
        insert into changes (session_id, revision, id, kind, step, label, patch, made, bytes)
        select moved.id, $3 + 1, $18, $13, $14, $15, $16::json, $19::json, $24 from moved
    ), faded as (
        update changes c set patch = null, made = null, bytes = 0 from moved
        where c.session_id = moved.id and c.revision = $3 + 1 - $21
    )
    select pg_notify($22, $1::text || ' ' || ($3 + 1)::text) from moved";
