//! Documents of earlier versions, and such as others wrote, made ones of today.

use super::{SCHEMA, Session, Shared, StripKind};

impl Session {
    /// Brings a document to today's schema and puts right what can be put right without a choice: the next free id
    /// behind every id in use, and a mix bus that is there. Returns a sentence for each thing that was changed and could be
    /// noticed.
    ///
    /// Schema 3 called a stereo image a utility, which is still read. Schema 2 did not say which bus is the mix bus: it was
    /// the first that fed main. Schema 1 had the same shape with fewer bounds; its values are put right as they are read
    /// ([`lane_units::repairing`]).
    pub fn settle(&mut self) -> Vec<String> {
        let mut remarks = Vec::new();
        if (1..SCHEMA).contains(&self.schema) {
            self.schema = SCHEMA;
        }
        self.settle_mix_bus();
        if let Some(most) = self.largest_id().filter(|most| *most >= self.next_id) {
            remarks.push(format!("New things would have got ids that are in use; they now begin at {}.", most + 1));
            self.next_id = most + 1;
        }
        remarks
    }

    /// Where the mix bus is gone, the first bus that feeds main takes its place, else main itself.
    pub(super) fn settle_mix_bus(&mut self) {
        if self.can_be_mix_bus(self.mix_bus) {
            return;
        }
        if let Some(main) = self.main().map(|m| m.id) {
            let feeds_main = |s: &&super::Strip| s.kind == StripKind::Bus && s.output == Some(main);
            self.mix_bus = Shared::values(&self.strips).find(feeds_main).map_or(main, |bus| bus.id);
        }
    }
}
