//! Writes are taken from our own pages only.

use crate::problem::Problem;
use actix_web::Error;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{StatusCode, header};
use actix_web::middleware::Next;

/// Refuses requests that change something and come from the page of another site. Programs other than
/// browsers send no origin and hold no cookie that a page could use.
pub async fn same_origin(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    if !request.method().is_safe() && !is_own(&request) {
        return Err(Problem::new(StatusCode::FORBIDDEN, "This request came from the page of another site.").into());
    }
    next.call(request).await
}

fn is_own(request: &ServiceRequest) -> bool {
    let header = |name: &str| request.headers().get(name).and_then(|v| v.to_str().ok());
    if let Some(site) = header("sec-fetch-site")
        && !matches!(site, "same-origin" | "none")
    {
        return false;
    }
    match (header(header::ORIGIN.as_str()), header(header::HOST.as_str())) {
        (None, _) => true,
        (Some(origin), Some(host)) => origin.split_once("://").is_some_and(|(_, of)| of.eq_ignore_ascii_case(host)),
        (Some(_), None) => false,
    }
}
