//! Diagrams, tested through the crate's front door: one program, so that it is linked once.

#![allow(clippy::unwrap_used, clippy::expect_used)]

// As the program itself.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

mod common;
mod layout;
mod measure;
