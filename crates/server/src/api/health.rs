//! For those who run the program.

use crate::problem::Problem;
use crate::state::App;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header;
use actix_web::middleware::Next;
use actix_web::{Error, HttpResponse, get, web};

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

/// Figures in the text format of OpenMetrics, on an address of their own.
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

/// Whether the program runs has nothing to do with who asks: a cookie, which the database would be asked about, is not looked at.
pub async fn whoever_asks(
    mut request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    if matches!(request.path(), "/healthz" | "/readyz") {
        request.headers_mut().remove(header::COOKIE);
    }
    next.call(request).await
}
