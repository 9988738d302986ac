//! What every request passes: a panic in one ends that one alone, every failure is a problem document, and characters
//! that no address of ours holds are refused at the door.

use crate::problem::Problem;
use crate::work::panic_text;
use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, ResponseError};
use futures_util::FutureExt;
use std::panic::AssertUnwindSafe;

/// Answers whatever comes of a request.
pub async fn answered<B: MessageBody + 'static>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<EitherBody<B>>, Error> {
    // The database's texts cannot hold this character, and no name of ours does.
    if request.uri().to_string().to_lowercase().contains("%00") {
        let refused = Problem::bad_request("The address holds the character U+0000; take it out.");
        return Ok(request.into_response(refused.error_response()).map_into_right_body());
    }
    match AssertUnwindSafe(next.call(request)).catch_unwind().await {
        Ok(Ok(answer)) if is_bare_fault(&answer) => {
            let (request, answer) = answer.into_parts();
            Ok(ServiceResponse::new(request, bare(answer.status()).error_response()).map_into_right_body())
        }
        Ok(Ok(answer)) => Ok(answer.map_into_left_body()),
        Ok(Err(error)) if error.as_error::<Problem>().is_some() => Err(error),
        Ok(Err(error)) => Err(worded(&error).into()),
        Err(panic) => Err(Problem::internal(panic_text(&*panic)).into()),
    }
}

/// A failure of a library as a problem. Only the keeping of cookies fails on our side without a problem of its own,
/// which is the database's doing.
fn worded(error: &Error) -> Problem {
    let status = error.as_response_error().status_code();
    if status.is_server_error() { Problem::away(error) } else { Problem::new(status, format!("{error}.")) }
}

/// Whether an answer is a failure without a word for people.
fn is_bare_fault<B: MessageBody>(answer: &ServiceResponse<B>) -> bool {
    let status = answer.status();
    let worded = answer.headers().get(header::CONTENT_TYPE).is_some_and(|t| t == "application/problem+json");
    (status.is_client_error() || status.is_server_error()) && !worded
}

fn bare(status: StatusCode) -> Problem {
    match status {
        StatusCode::NOT_FOUND => Problem::not_found("There is nothing at this address."),
        StatusCode::METHOD_NOT_ALLOWED => Problem::new(status, "This address does not take that method."),
        status if status.is_server_error() => Problem::away(status),
        status => Problem::new(status, "The request cannot be understood."),
    }
}
