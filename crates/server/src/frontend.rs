//! The built pages, which the program brings along.

use actix_web::http::{Method, header};
use actix_web::{HttpRequest, HttpResponse, web};
use std::borrow::Cow;

/// A file of the front end by its path; nothing where there is none. The program holds them, so that nothing else has to
/// wait for pages to be built.
pub type Pages = fn(&str) -> Option<Cow<'static, [u8]>>;

/// A file of the front end; any other path is the page itself, which routes on its own.
pub async fn page(request: HttpRequest, pages: web::Data<Pages>) -> HttpResponse {
    if !matches!(*request.method(), Method::GET | Method::HEAD) {
        return HttpResponse::MethodNotAllowed().insert_header((header::ALLOW, "GET, HEAD")).finish();
    }
    let path = request.path().trim_start_matches('/');
    let (name, file) = match pages(path) {
        Some(file) if !path.is_empty() => (path, Some(file)),
        // A missing file of ours is a fault, not a page.
        _ if path.starts_with("assets/") => return HttpResponse::NotFound().finish(),
        _ => ("index.html", pages("index.html")),
    };
    let Some(file) = file else {
        return HttpResponse::ServiceUnavailable().body("The pages are not built. Run ./demo, which builds them.");
    };
    // Names under assets/ hold a hash of their contents.
    let keep = if name.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    HttpResponse::Ok()
        .content_type(mime_guess::from_path(name).first_or_octet_stream().as_ref())
        .insert_header(("cache-control", keep))
        .body(file)
}
