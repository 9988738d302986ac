//! For those who run the program.

use crate::problem::Problem;
use crate::state::App;
use actix_web::{HttpResponse, get, web};

/// The program runs.
#[utoipa::path(get, path = "/healthz", responses((status = 200)))]
#[get("/healthz")]
pub async fn healthz() -> &'static str {
    "ok\n"
}

/// The database answers too.
#[utoipa::path(get, path = "/readyz", responses((status = 200), (status = 503, body = Problem)))]
#[get("/readyz")]
pub async fn readyz(app: web::Data<App>) -> Result<&'static str, Problem> {
    app.store.ready().await?;
    Ok("ok\n")
}

/// Figures in the text format of OpenMetrics.
#[utoipa::path(get, path = "/metrics", responses((status = 200)))]
#[get("/metrics")]
pub async fn metrics(app: web::Data<App>) -> Result<HttpResponse, Problem> {
    let pool = app.store.pool();
    let mut text = String::from("# TYPE zealous_lane_renders gauge\n");
    for (state, count) in app.store.render_counts().await? {
        text += &format!("zealous_lane_renders{{state=\"{state}\"}} {count}\n");
    }
    text += "# TYPE zealous_lane_database_connections gauge\n";
    text += &format!("zealous_lane_database_connections{{state=\"open\"}} {}\n", pool.size());
    text += &format!("zealous_lane_database_connections{{state=\"idle\"}} {}\n", pool.num_idle());
    text += "# EOF\n";
    Ok(HttpResponse::Ok().content_type("application/openmetrics-text; version=1.0.0; charset=utf-8").body(text))
}
