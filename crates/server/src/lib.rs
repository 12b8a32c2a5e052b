//! The web server and the command line of Cimento.

mod access;
mod benches;
pub mod certificate;
mod clock;
pub mod commands;
pub mod connections;
mod diagrams;
mod fair;
mod gate;
mod journal;
mod live;
mod own_site;
mod pace;
mod passwords;
pub mod peer;
mod pictures;
mod pool;
mod problem;
mod prospect;
mod reasoner;
mod routes;
mod session;
mod state;
mod throttle;

pub use fair::Rate;
pub use reasoner::References;
pub use routes::{document, router};
pub use state::AppState;
