//! Edits of what is tracked out, and of checks.

use super::EditError;
use super::intent::Intent;
use super::label::Words;
use super::parts::parts;
use crate::session::{Session, StemPlan};
use lane_units::CheckKey;
use serde::{Deserialize, Serialize};

/// Which stems are tracked out, and how.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetStemPlan {
    /// As it is to be.
    pub plan: StemPlan,
}
parts!(SetStemPlan { plan });

impl Intent for SetStemPlan {
    fn label(&self, _: &Words) -> String {
        "Stem plan".into()
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        s.stem_plan = self.plan.clone();
        Ok(())
    }
}

/// A check out of sight, or in sight again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct DismissCheck {
    /// Which.
    pub key: CheckKey,
    /// Whether it is out of sight.
    pub dismissed: bool,
}
parts!(DismissCheck { key, dismissed });

impl Intent for DismissCheck {
    fn label(&self, _: &Words) -> String {
        if self.dismissed { "Put a check out of sight".into() } else { "Bring a check back".into() }
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        s.dismissed.retain(|k| k != &self.key);
        if self.dismissed {
            s.dismissed.push(self.key.clone());
        }
        Ok(())
    }
}
