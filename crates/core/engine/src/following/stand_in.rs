//! A structure that is whole takes the place of the old one.

use crate::engine::Engine;
use crate::following::build::{Gone, Next, NextConnection, NextSlot, NextStrip};
use crate::strips::ring::Turn;
use crate::strips::strip::{SlotState, StripState};
use crate::time::score::Lead;
use crate::voices::player::VoicePlayer;
use lane_dsp::Ramp;

impl Engine {
    /// Puts a new structure in the place of the old one. What sounds goes on; gains move without a click.
    pub(crate) fn stand_in(&mut self, mut next: Box<Next>) {
        if next.length > self.turn.length {
            // Longer waits than ever: the past moves into longer rings.
            self.strips.iter_mut().for_each(|s| s.lengthen(self.turn, next.length));
            self.turn = Turn { length: next.length, at: 0 };
        }
        let (strips, connections, players, leads) = std::mem::take(&mut next.rooms);
        let old_strips = std::mem::replace(&mut self.strips, strips);
        let mut old_strips: Vec<Option<StripState>> = old_strips.into_iter().map(Some).collect();
        for strip in &mut next.strips {
            let (mut state, kept) = match strip.old.and_then(|at| old_strips[at].take()) {
                Some(state) => (state, true),
                None => match strip.fresh.take() {
                    Some(state) => (state, false),
                    None => continue,
                },
            };
            self.place_strip(strip, &mut state, kept);
            self.strips.push(state);
        }
        self.gone.extend(old_strips.into_iter().flatten().map(Gone::Strip));
        let old_connections = std::mem::replace(&mut self.connections, connections);
        for connection in next.connections.drain(..) {
            let NextConnection { old, gain, mut made } = connection;
            if let Some(old) = old.and_then(|at| old_connections.get(at)) {
                made.gain = old.gain.clone();
                made.gain.go_to(gain, self.sample_rate);
            }
            self.connections.push(made);
        }
        let old_players = std::mem::replace(&mut self.players, players);
        let old_leads = std::mem::replace(&mut self.leads, leads);
        let mut old_voices: Vec<Option<(VoicePlayer, Lead)>> =
            old_players.into_iter().zip(old_leads).map(Some).collect();
        for voice in &mut next.voices {
            let kept = voice.old.and_then(|at| old_voices[at].take());
            let Some((player, mut lead)) = kept.or_else(|| voice.fresh.take()) else { continue };
            (lead.strip, lead.choke_set) = (voice.strip, voice.choke_set);
            self.players.push(player);
            self.leads.push(lead);
        }
        self.gone.extend(old_voices.into_iter().flatten().map(|(player, lead)| Gone::Voice(player, lead)));
        self.gone.push(Gone::Next(next));
        let bypass = std::mem::take(&mut self.bypass);
        self.strips.iter_mut().for_each(|s| s.pass_by(&bypass));
        self.bypass = bypass;
    }

    fn place_strip(&mut self, strip: &mut NextStrip, state: &mut StripState, kept: bool) {
        (state.arrives, state.leaves) = (strip.arrives, strip.leaves);
        if kept {
            state.trim.go_to([strip.trim], self.sample_rate);
            state.post.go_to(strip.post, self.sample_rate);
            if strip.rerouted {
                state.input_seam.arm();
            }
        } else {
            (state.trim, state.post) = (Ramp::at([strip.trim]), Ramp::at(strip.post));
        }
        let same =
            |slot: &SlotState, next: &NextSlot| (slot.id, slot.slot.latency()) == (next.id, next.course.latency());
        let mut moved = state.slots.len() != strip.slots.len()
            || !state.slots.iter().zip(&strip.slots).all(|(slot, next)| same(slot, next));
        let old = std::mem::replace(&mut state.slots, std::mem::take(&mut strip.room));
        let mut old: Vec<Option<SlotState>> = old.into_iter().map(Some).collect();
        for next in &mut strip.slots {
            let standing = next.old.and_then(|at| old.get_mut(at)?.take());
            let (slot, prime) = match (standing, next.fresh.take()) {
                (Some(mut slot), None) => {
                    slot.slot.set(&next.course);
                    slot.tune(&next.key);
                    (slot, false)
                }
                (Some(old), Some(mut fresh)) => {
                    let late = old.slot.latency() == fresh.slot.latency();
                    moved = true;
                    fresh.inherit(old);
                    fresh.tune(&next.key);
                    (fresh, !late)
                }
                (None, Some(mut fresh)) => {
                    fresh.tune(&next.key);
                    (fresh, true)
                }
                (None, None) => continue,
            };
            state.slots.push(slot);
            if prime && kept {
                state.prime(state.slots.len() - 1, self.turn);
            }
        }
        self.gone.extend(old.into_iter().flatten().map(Gone::Slot));
        if moved && kept {
            state.chain_seam.arm();
        }
    }
}
