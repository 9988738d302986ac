//! What a page came to grief over, for those who run the program.

use crate::auth::SignedIn;
use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, post, web};
use lane_wire::PageFault;

/// Characters of each text that are kept.
const KEPT: usize = 2000;

/// As one line of a log.
fn line(text: &str) -> String {
    text.chars().take(KEPT).map(|c| if c.is_control() { ' ' } else { c }).collect()
}

/// Writes what a page came to grief over into the log.
#[utoipa::path(post, path = "/api/faults", request_body = PageFault, responses((status = 204), (status = 429, body = Problem)))]
#[post("/api/faults")]
pub async fn told(
    app: web::Data<App>,
    account: SignedIn,
    fault: web::Json<PageFault>,
) -> Result<HttpResponse, Problem> {
    app.page_faults
        .count(&account.id())
        .map_err(|wait| Problem::too_many(format!("The log has enough of this page. Tell more in {wait} s."), wait))?;
    let PageFault { what, whereabouts } = fault.into_inner();
    tracing::error!(account = %account.id(), what = line(&what), whereabouts = line(&whereabouts), "a page came to grief");
    Ok(HttpResponse::NoContent().finish())
}
