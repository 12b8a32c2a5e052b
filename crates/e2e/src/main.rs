//! What a browser is asked beside tests: `cargo run -p cimento-e2e -- screenshots`, `… -- speed`, `… -- frames`.

mod frames;
mod screenshots;
mod speed;

use cimento_e2e::Result;

#[tokio::main]
async fn main() -> Result<()> {
    match std::env::args().nth(1).as_deref() {
        Some("screenshots") => screenshots::take().await,
        Some("speed") => speed::measure().await,
        Some("frames") => frames::measure().await,
        _ => Err("expected screenshots, speed or frames".into()),
    }
}
