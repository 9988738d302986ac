//! The built pages, inside the program.

use actix_web::{HttpRequest, HttpResponse};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Pages;

/// A file of the front end; any other path is the page itself, which routes on its own.
pub async fn page(request: HttpRequest) -> HttpResponse {
    let path = request.path().trim_start_matches('/');
    let (name, file) = match Pages::get(path) {
        Some(file) if !path.is_empty() => (path, Some(file)),
        // A missing file of ours is a fault, not a page.
        _ if path.starts_with("assets/") => return HttpResponse::NotFound().finish(),
        _ => ("index.html", Pages::get("index.html")),
    };
    let Some(file) = file else {
        return HttpResponse::ServiceUnavailable().body("The pages are not built. Run ./demo, which builds them.");
    };
    // Names under assets/ hold a hash of their contents.
    let keep = if name.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    HttpResponse::Ok()
        .content_type(mime_guess::from_path(name).first_or_octet_stream().as_ref())
        .insert_header(("cache-control", keep))
        .body(file.data)
}
