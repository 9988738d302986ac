//! The demo sessions, and the synthesis of every sound in them. Same code, same samples, on every machine.

mod beats;
mod builder;
mod presets;
mod proofs;
mod sounds;
mod templates;

pub use beats::demo_sessions;
pub use builder::DemoSession;
pub use presets::{HousePreset, house_presets};
pub use proofs::{heavy_session, palette_session};
pub use sounds::{Sound, house_sound};
pub use templates::{HouseTemplate, house_templates};
