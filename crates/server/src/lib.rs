//! The web server and the command line of Cimento.

mod benches;
pub mod commands;
mod gate;
mod openapi;
mod pace;
mod pool;
mod problem;
mod reasoner;
mod routes;
mod session;
mod state;

pub use openapi::document;
pub use routes::router;
pub use state::AppState;
