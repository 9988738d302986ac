//! Applying edits: all of one, or nothing.

use super::applied::made;
use super::{Applied, Edit, EditError, NotePlaces};
use super::{balance, chain, find, hits, insert, lanes, references, song, strips, takes};
use crate::routing;
use crate::session::{Patch, Session, Size, Take};

/// Applies an edit: all of it, or nothing.
///
/// Lists of the edit are checked before the work. In a batch, sizes and references are checked after each step, so
/// that the next one finds a document that hangs together; values and loops are checked once at its end.
///
/// # Errors
/// [`EditError`] with what is wrong and where; the session is then unchanged.
///
/// Cost: linear in the document, and in the edit times the lists that it names.
pub fn apply(session: &mut Session, edit: &Edit) -> Result<Applied, EditError> {
    edit.bounded()?;
    let size = Size::of(session);
    let mut next = session.clone();
    change(&mut next, edit, &size)?;
    drop_unused_assets(&mut next);
    size.allows(&next)?;
    next.validate()?;
    routing::order(&next)?;
    let applied = Applied {
        there: Patch::between(session, &next),
        back: Patch::between(&next, session),
        label: edit.label(session),
        made: made(&next, session.next_id),
    };
    *session = next;
    Ok(applied)
}

/// The lanes proposed for the notes of a take that comes in.
///
/// * `before` – what comes in before it, such as sounds; an edit that does not fit counts as left out.
///
/// Cost: a copy of the session and each edit.
pub fn note_places(session: &Session, before: &[Edit], take: &Take) -> NotePlaces {
    let mut then = session.clone();
    for edit in before {
        // An edit that fails leaves nothing half-done.
        let _ = apply(&mut then, edit);
    }
    takes::places(session, &then, take)
}

fn change(s: &mut Session, edit: &Edit, size: &Size) -> Result<(), EditError> {
    match edit {
        Edit::SetHeader { header } => song::set_header(s, header),
        Edit::AddVoices { voices, assets } => lanes::add_voices(s, voices, assets),
        Edit::AddTriggers { voices, assets } => lanes::add_triggers(s, voices, assets),
        Edit::RemoveVoices { voices } => lanes::remove_voices(s, voices),
        Edit::RenameVoice { voice, name } => lanes::rename(s, *voice, name),
        Edit::SetFamily { voice, family } => find::voice_mut(s, *voice).map(|v| v.family = *family),
        Edit::MoveVoice { voice, to } => lanes::move_voice(s, *voice, *to),
        Edit::SetSource { voice, source, assets } => lanes::set_source(s, *voice, source, assets),
        Edit::SetHits { pattern, voice, hits } => song::set_hits(s, *pattern, *voice, hits.clone()),
        Edit::AddPattern { name, bars, copy_of } => song::add_pattern(s, name, *bars, *copy_of),
        Edit::SetPattern { pattern } => song::set_pattern(s, pattern),
        Edit::RemovePattern { pattern } => song::remove_pattern(s, *pattern),
        Edit::AddSection { name, pattern, bars, at } => song::add_section(s, name, *pattern, *bars, *at),
        Edit::SetSection { section } => song::set_section(s, section),
        Edit::GivePattern { section, copy } => song::give_pattern(s, *section, *copy),
        Edit::RemoveSection { section } => song::remove_section(s, *section),
        Edit::MoveSection { section, to } => song::move_section(s, *section, *to),
        Edit::ChangeHits { pattern, voices, range, change } => hits::change(s, *pattern, voices, *range, change),
        Edit::SetLoop { pattern, voices, ticks } => song::set_loop(s, *pattern, voices, *ticks),
        Edit::Humanise { pattern, voices, by } => song::humanise(s, *pattern, voices, *by),
        Edit::DoublePattern { pattern } => song::double_pattern(s, *pattern),
        Edit::AddTake { take, sounds, to } => takes::add(s, take, sounds, to),
        Edit::SplitTake { take, splits } => takes::split(s, *take, splits),
        Edit::RemoveTake { take } => takes::remove(s, *take),
        Edit::CutLoop { cut } => lanes::cut(s, cut),
        Edit::SetChoke { voices, set } => lanes::each(s, voices, |v| v.choke_set = *set),
        Edit::SetVoiceLate { voices, late_ms } => lanes::each(s, voices, |v| v.late_ms = *late_ms),
        Edit::SetVoiceSwing { voices, swing } => lanes::each(s, voices, |v| v.swing = *swing),
        Edit::Follow { voice, leader } => lanes::follow(s, *voice, *leader),
        Edit::DuplicateVoice { voice, with_chain, follows } => {
            lanes::duplicate(s, *voice, *with_chain, *follows).map(|_| ())
        }
        Edit::RenameStrip { strip, name } => strips::rename(s, *strip, name),
        Edit::SetStrips { strips, change } => strips::set(s, strips, change),
        Edit::MoveValues { strips, value, by } => balance::move_values(s, strips, value, *by),
        Edit::SetOutput { strips, output } => strips::set_output(s, strips, *output),
        Edit::OwnChannels { voices } => strips::own_channels(s, voices),
        Edit::ShareChannel { voices, channel } => strips::share_channel(s, voices, *channel),
        Edit::NewBus { name, feeders } => strips::new_bus(s, name, feeders),
        Edit::GroupOnBuses { groups } => strips::group_on_buses(s, groups),
        Edit::NewPath { name, feeders, processors } => strips::new_path(s, name, feeders, processors),
        Edit::NewReturn { name, feeders, silent } => strips::new_return(s, name, feeders, *silent),
        Edit::RemoveStrip { strip, feeders_to } => strips::remove_strip(s, *strip, *feeders_to),
        Edit::SetMixBus { strip } => strips::set_mix_bus(s, *strip),
        Edit::SetSend { strips, send } => strips::set_send(s, strips, send),
        Edit::RemoveSends { strips, to } => strips::remove_sends(s, strips, *to),
        Edit::SetTriggers { voices, trigger } => strips::set_triggers(s, voices, *trigger),
        Edit::NewTrigger { like, follows } => lanes::new_trigger(s, *like, *follows),
        Edit::AddProcessor { strips, settings, key, at } => chain::add(s, strips, settings, *key, *at),
        Edit::RemoveProcessors { strip, processors } => chain::remove(s, *strip, processors),
        Edit::MoveProcessor { strip, processor, to } => chain::move_to(s, *strip, *processor, *to),
        Edit::SetProcessor { strip, processor, change } => chain::set(s, *strip, *processor, change),
        Edit::InsertProcessors { strips, processors, at, replace } => {
            chain::insert(s, strips, processors, *at, *replace)
        }
        Edit::OrderChain { strip, order } => chain::order(s, *strip, order),
        Edit::CopyChain { from, processors, to, replace } => chain::copy(s, *from, processors, to, *replace),
        Edit::TakeOver { taken, .. } => taken.apply(s),
        Edit::SetStemPlan { plan } => {
            s.stem_plan = plan.clone();
            Ok(())
        }
        Edit::DismissCheck { key, dismissed } => {
            s.dismissed.retain(|k| k != key);
            if *dismissed {
                s.dismissed.push(key.clone());
            }
            Ok(())
        }
        Edit::AddReference { name, asset } => references::add(s, name, asset),
        Edit::SetReference { reference } => references::set(s, reference),
        Edit::RemoveReference { reference } => references::remove(s, *reference),
        Edit::InsertLanes { insertion } => insert::insert(s, insertion),
        Edit::Batch { edits } => edits.iter().try_for_each(|edit| {
            change(s, edit, size)?;
            size.allows(s)?;
            Ok(s.validate_references()?)
        }),
    }
}

fn drop_unused_assets(s: &mut Session) {
    let used = s.named_assets();
    s.assets.retain(|a| used.contains(&a.id));
}
