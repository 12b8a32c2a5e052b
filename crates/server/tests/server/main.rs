//! The server, asked over its routes and by its commands: one program, so that it is linked once.

#![allow(clippy::unwrap_used, clippy::expect_used)]

// As the program itself.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

mod api;
mod binder;
mod building;
mod class_at_work;
mod classes;
mod codes;
mod commands;
mod common;
mod connections;
mod courses;
mod craft;
mod kept;
mod lessons;
mod limits;
mod live;
mod marks;
mod network;
mod notebook;
mod own_data;
mod pairs;
mod patterns;
mod predicting;
mod secrecy;
mod sequences;
mod sketches;
mod test_sheets;
mod told;
mod upgrades;
