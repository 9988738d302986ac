//! The demo sessions, and the synthesis of every sound in them. Same code, same samples, on every machine.

mod beats;
mod presets;
mod sounds;
mod templates;

pub use beats::{DemoSession, demo_sessions};
pub use presets::{HousePreset, house_presets};
pub use sounds::{Sound, house_sound};
pub use templates::{HouseTemplate, house_templates};
