//! Presets: processors and chains of the account and of the house, to be used in any session.

use crate::answers::raw;
use crate::auth::SignedIn;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, delete, get, post, put, web};
use lane_document::edit::{Edit, InsertProcessors, apply};
use lane_document::json::FromJson;
use lane_document::session::{Processor, Session};
use lane_house::house_presets;
use lane_store::Preset;
use lane_wire::{Created, NewPreset, PresetChange, PresetLine};
use serde_json::value::RawValue;
use uuid::Uuid;

/// Processors that any chain takes: of their keys, what they hear belongs to one session and is asked for anew.
fn checked(json: &RawValue) -> Result<Vec<Processor>, Problem> {
    let processors = Vec::<Processor>::from_json(json.get().as_bytes());
    let processors = processors.map_err(|e| Problem::unprocessable(format!("The request cannot be read: {e}.")))?;
    let processors: Vec<Processor> = processors
        .iter()
        .map(|p| Processor { key: p.key.map(|key| key.with_sources(|_| None)), ..p.clone() })
        .collect();
    let mut session = Session::new("Preset", 48_000);
    let strips = session.main().map(|m| m.id).into_iter().collect();
    let insert =
        Edit::InsertProcessors(InsertProcessors { strips, processors: processors.clone(), at: None, replace: true });
    apply(&mut session, &insert).map_err(|e| Problem::unprocessable(format!("Not kept: {e}.")))?;
    Ok(processors)
}

/// Our own presets, then the account's by name.
#[utoipa::path(get, path = "/api/presets", responses((status = 200, body = Vec<PresetLine>)))]
#[get("/api/presets")]
pub async fn list(app: web::Data<App>, account: SignedIn) -> Result<web::Json<Vec<PresetLine>>, Problem> {
    let line = |id, name, house, processors: Vec<Processor>| -> Result<PresetLine, Problem> {
        let processors = raw(&processors).map_err(Problem::internal)?;
        Ok(PresetLine { id, name, house, processors })
    };
    let house = house_presets().into_iter().enumerate();
    let house = house.map(|(at, p)| line(Uuid::from_u128(at as u128 + 1), p.name.into(), true, p.processors));
    let own = app.store.presets(account.id()).await?.into_iter();
    let own = own.map(|Preset { id, name, processors }| line(id, name, false, processors));
    Ok(web::Json(house.chain(own).collect::<Result<_, _>>()?))
}

/// Keeps a processor or a chain.
#[utoipa::path(post, path = "/api/presets", request_body = NewPreset, responses((status = 200, body = Created), (status = 422, body = Problem)))]
#[post("/api/presets")]
pub async fn create(
    app: web::Data<App>,
    account: SignedIn,
    body: web::Json<NewPreset>,
) -> Result<web::Json<Created>, Problem> {
    let processors = checked(&body.processors)?;
    let id = app.store.add_preset(account.id(), &body.name, &processors).await?;
    Ok(web::Json(Created::new(id)))
}

/// Another name, and other processors where they are given.
#[utoipa::path(put, path = "/api/presets/{id}", request_body = PresetChange, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[put("/api/presets/{id}")]
pub async fn change(
    app: web::Data<App>,
    account: SignedIn,
    id: web::Path<Uuid>,
    body: web::Json<PresetChange>,
) -> Result<HttpResponse, Problem> {
    let processors = body.processors.as_deref().map(checked).transpose()?;
    app.store.set_preset(account.id(), *id, &body.name, processors.as_deref()).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Removes a preset of the account; chains made with it stay.
#[utoipa::path(delete, path = "/api/presets/{id}", responses((status = 204), (status = 404, body = Problem)))]
#[delete("/api/presets/{id}")]
pub async fn remove(app: web::Data<App>, account: SignedIn, id: web::Path<Uuid>) -> Result<HttpResponse, Problem> {
    app.store.remove_preset(account.id(), *id).await?;
    Ok(HttpResponse::NoContent().finish())
}
