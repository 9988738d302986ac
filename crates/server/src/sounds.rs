//! The audio of accounts: at hand for threads that may wait, described, and our own sounds among it.

use crate::problem::Problem;
use crate::state::App;
use lane_analysis::{guess_family, settled_pitch};
use lane_document::edit::TakeSound;
use lane_document::midi::lines;
use lane_document::session::{AssetRef, Audio, AudioError, Take};
use lane_files::asset::{pcm_bytes, pcm_samples};
use lane_files::asset_id;
use lane_files::names::voice_name;
use lane_house::{Sound, house_sound};
use lane_store::{LibrarySound, Store, StoreError};
use lane_units::{Name, SAMPLE_RATES, readable_dbfs};
use std::sync::Arc;
use tokio::runtime::Handle;
use uuid::Uuid;

/// Pitches that a library tells of a sound, in Hz, and how many of its seconds are listened to.
const PITCHES_HZ: (f64, f64) = (25.0, 500.0);
const PITCH_SECONDS: f64 = 1.0;

/// Why audio is not at hand.
#[derive(Debug, thiserror::Error)]
pub enum LoadError {
    #[error("{0}")]
    Store(#[from] StoreError),
    #[error("the audio {name} is damaged in the store: {reason}")]
    Audio { name: String, reason: AudioError },
}

impl From<LoadError> for Problem {
    fn from(error: LoadError) -> Self {
        match error {
            LoadError::Store(error) => error.into(),
            damaged => Self::internal(damaged),
        }
    }
}

/// The audio of an account's asset, for threads that may wait.
pub fn load_audio(store: &Store, account: Uuid, asset: &AssetRef, runtime: &Handle) -> Result<Arc<Audio>, LoadError> {
    let bytes = runtime.block_on(store.asset_bytes(account, &asset.id))?;
    let damaged = |reason| LoadError::Audio { name: asset.name.to_string(), reason };
    Audio::new(asset.channels, pcm_samples(&bytes)).map(Arc::new).map_err(damaged)
}

/// A sound with what a library tells of it.
///
/// * `head` – its first seconds.
/// * `peak` – of the whole sound, linear.
pub fn described(name: Name, asset: AssetRef, head: &Audio, peak: f32) -> LibrarySound {
    let family = guess_family(&name, head, asset.sample_rate);
    let pitch_hz = settled_pitch(head, asset.sample_rate, PITCHES_HZ, PITCH_SECONDS).map(|p| p.hz);
    LibrarySound { asset, name, family, peak_dbfs: readable_dbfs(f64::from(peak)), pitch_hz }
}

/// House sounds for every sound of a take, so that it plays at once.
pub async fn keep_house_sounds(app: &App, account: Uuid, take: &Take, rate: u32) -> Result<Vec<TakeSound>, Problem> {
    // Bars do not matter for what a note is.
    let wanted: Vec<_> =
        lines(take, 1).into_iter().map(|l| (l.key, house_sound(&l.name, l.family, l.melodic))).collect();
    let mut kept: Vec<(Sound, AssetRef)> = Vec::new();
    let mut sounds = Vec::new();
    for (key, sound) in wanted {
        let asset = match kept.iter().find(|(s, _)| *s == sound) {
            Some((_, asset)) => asset.clone(),
            None => keep_house_sound(app, account, sound, rate).await?.0,
        };
        kept.push((sound, asset.clone()));
        sounds.push(TakeSound { key, asset });
    }
    Ok(sounds)
}

/// One of our own sounds among the audio of an account.
pub async fn keep_house_sound(
    app: &App,
    account: Uuid,
    sound: Sound,
    rate: u32,
) -> Result<(AssetRef, Arc<Audio>), Problem> {
    let audio = app.sounds.run_for(account, move || sound.kept(rate)).await?;
    let asset = AssetRef {
        id: asset_id(&audio, rate),
        name: sound.file_name().into(),
        channels: audio.channels(),
        sample_rate: rate,
        frames: audio.frames() as u32,
    };
    app.store.put_asset(account, &asset, std::io::Cursor::new(pcm_bytes(audio.samples()))).await?;
    Ok((asset, audio))
}

/// Our own sounds, at the middle of the usual rates.
pub async fn keep_house(app: &App, account: Uuid) -> Result<(), Problem> {
    let rate = SAMPLE_RATES[1];
    for sound in Sound::ALL {
        let (asset, audio) = keep_house_sound(app, account, sound, rate).await?;
        let name = Name::cleaned(&voice_name(sound.file_name()), "Sample");
        let sound = app.sounds.run_for(account, move || described(name, asset, &audio, audio.peak())).await?;
        app.store.keep_in_library(account, &sound).await?;
    }
    Ok(())
}
