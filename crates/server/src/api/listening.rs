//! What is measured of a session's sounds: tuning, cuts of a loop.

use super::folders::{LoadError, load_audio};
use super::types::{LoopCuts, LoopPiece, LoopTempoLine};
use crate::auth::SignedIn;
use crate::changes::document;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, get, web};
use lane_core::analysis::{guess_family, loop_tempi, onsets};
use lane_core::session::{AssetBank, AssetRef, Audio, Session, VoiceSource};
use lane_core::stems::labels::safe;
use lane_core::tuning::{Tuning, measure};
use lane_core::units::VoiceId;
use serde::Deserialize;
use std::sync::Arc;
use tokio::runtime::Handle;
use uuid::Uuid;

#[derive(Debug, Deserialize)]
pub struct Voices {
    kick: u32,
    bass: Option<u32>,
}

/// Kick and bass measured as the session plays them, and the ways to tune the kick.
#[utoipa::path(get, path = "/api/sessions/{id}/tuning", params(("kick" = u32, Query), ("bass" = Option<u32>, Query)), responses((status = 200, body = Object), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/tuning")]
pub async fn tuning(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    query: web::Query<Voices>,
) -> Result<web::Json<Tuning>, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let (kick, bass) = (VoiceId(query.kick), query.bass.map(VoiceId));
    let wanted: Vec<VoiceId> = [Some(kick), bass].into_iter().flatten().collect();
    for voice in &wanted {
        voice_of(&session, *voice)?;
    }
    let (store, owner, runtime) = (app.store.clone(), account.id(), Handle::current());
    let measured = app.sounds.run(move || {
        let mut bank = AssetBank::new();
        for asset in assets_of(&session, &wanted) {
            bank.insert(asset.id.clone(), load_audio(&store, owner, &asset, &runtime)?);
        }
        Ok::<_, LoadError>(measure(&session, &bank, kick, bass))
    });
    Ok(web::Json(measured.await??))
}

fn voice_of(session: &Session, id: VoiceId) -> Result<&lane_core::session::Voice, Problem> {
    session.voice(id).ok_or_else(|| Problem::not_found(format!("Voice {} is not in the session any more.", id.0)))
}

fn assets_of(session: &Session, voices: &[VoiceId]) -> Vec<AssetRef> {
    let named = session.voices.iter().filter(|v| voices.contains(&v.id)).flat_map(|v| v.source.assets());
    let mut assets: Vec<AssetRef> = named.filter_map(|id| session.asset(id)).cloned().collect();
    assets.dedup();
    assets
}

#[derive(Debug, Deserialize)]
pub struct CutQuery {
    voice: u32,
    /// 0 to 1.
    sensitivity: f64,
}

/// Where a loop could be cut, and which tempo it could have.
#[utoipa::path(get, path = "/api/sessions/{id}/loop", params(("voice" = u32, Query), ("sensitivity" = f64, Query)), responses((status = 200, body = LoopCuts), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/api/sessions/{id}/loop")]
pub async fn loop_cuts(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    query: web::Query<CutQuery>,
) -> Result<web::Json<LoopCuts>, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let voice = voice_of(&session, VoiceId(query.voice))?;
    let asset = match &voice.source {
        VoiceSource::Empty => None,
        VoiceSource::OneShot { layers, .. } => layers.first().and_then(|l| session.asset(&l.asset)),
        VoiceSource::Recording { asset, .. } => session.asset(asset),
    };
    let asset = asset
        .cloned()
        .ok_or_else(|| Problem::unprocessable(format!("{} has no sound that could be cut.", voice.name)))?;
    if asset.frames > LOOP_SECONDS * asset.sample_rate {
        let detail =
            format!("{} is longer than {LOOP_SECONDS} s. Cut a shorter piece of it and drop that.", voice.name);
        return Err(Problem::unprocessable(detail));
    }
    let (store, owner, runtime) = (app.store.clone(), account.id(), Handle::current());
    let (metre, sensitivity) = (session.header.metre, query.sensitivity);
    let cuts = app.sounds.run(move || {
        let audio = load_audio(&store, owner, &asset, &runtime)?;
        let found = onsets(&audio, asset.sample_rate, sensitivity);
        let tempi = loop_tempi(audio.frames(), &found, asset.sample_rate, metre);
        Ok::<_, LoadError>(LoopCuts {
            frames: asset.frames,
            overview: overview(&audio),
            pieces: pieces(&audio, &found, asset.sample_rate),
            tempi: tempi.into_iter().map(|t| LoopTempoLine { bpm: t.bpm, bars: t.bars, fit: t.fit }).collect(),
        })
    });
    Ok(web::Json(cuts.await??))
}

/// The longest loop that is listened to, in seconds.
const LOOP_SECONDS: u32 = 120;
/// Values of the picture of a loop.
const OVERVIEW: usize = 1200;

fn overview(audio: &Audio) -> Vec<f32> {
    let frames = audio.frames();
    (0..OVERVIEW)
        .map(|n| {
            let (from, to) = (n * frames / OVERVIEW, ((n + 1) * frames / OVERVIEW).max(n * frames / OVERVIEW + 1));
            let peak = (from..to).flat_map(|at| audio.frame(at as isize)).fold(0.0, |p: f32, s| p.max(s.abs()));
            (peak * 1000.0).round() / 1000.0
        })
        .collect()
}

/// From each beginning to the next, with the family that its sound speaks for.
fn pieces(audio: &Arc<Audio>, onsets: &[usize], sample_rate: u32) -> Vec<LoopPiece> {
    let ends = onsets.iter().skip(1).copied().chain([audio.frames()]);
    let side = usize::from(audio.channels());
    onsets
        .iter()
        .zip(ends)
        .filter(|(start, end)| *start < end)
        .map(|(start, end)| {
            // The first sixth of a second says what was hit; the rest is often what still rings.
            let heard = (*start + sample_rate as usize / 6).min(end);
            let samples = audio.samples()[start * side..heard * side].to_vec();
            let family = Audio::new(audio.channels(), samples)
                .map_or(lane_core::session::Family::Percussion, |piece| guess_family("", &piece, sample_rate));
            LoopPiece { start_frame: *start as u32, end_frame: end as u32, family }
        })
        .collect()
}

/// Everything that a session plays, as a MIDI file with a track for each voice.
#[utoipa::path(get, path = "/api/sessions/{id}/midi", responses((status = 200, content_type = "audio/midi"), (status = 404, body = Problem)))]
#[get("/api/sessions/{id}/midi")]
pub async fn midi(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    let session = document(&app, account.id(), *id).await?;
    let name = format!("{}.mid", safe(&session.header.title));
    let bytes = app.edits.run(move || lane_files::midi::write_song(&session)).await?;
    Ok(HttpResponse::Ok().content_type("audio/midi").insert_header(super::attachment(&name)).body(bytes))
}
