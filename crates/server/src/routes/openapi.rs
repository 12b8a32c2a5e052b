//! The API's description.

use utoipa::OpenApi;

/// The OpenAPI document as JSON.
pub fn document() -> String {
    #[derive(OpenApi)]
    #[openapi(info(
        title = "Cimento",
        description = "Simulated starting, charging and ignition circuits: faults, readings, attempts, mark sheets."
    ))]
    struct Base;

    let (_, api) = super::api().split_for_parts();
    let mut whole = Base::openapi();
    whole.merge(api);
    whole.to_pretty_json().unwrap_or_default()
}
