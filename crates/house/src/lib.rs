//! What the house brings: sounds, templates, presets, and the demo sessions made of them. Same code, same samples, on
//! every machine.

mod beats;
pub mod builder;
mod kit;
mod presets;
mod sounds;
mod templates;

pub use beats::demo_sessions;
pub use builder::DemoSession;
pub use presets::{HousePreset, house_presets};
pub use sounds::{Sound, house_sound};
pub use templates::{HouseTemplate, house_templates};
