//! Diagnosis, tested through the crates' front doors. One program holds all of it, so that it is linked once and
//! its tests fill every core; `cargo test -p cimento-diagnosis --test trade marking::` runs one subject.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::approx_constant)]

// As the program itself: a quarter of a reference is taking and freeing memory.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[allow(dead_code, reason = "each program uses a part of it")]
#[path = "../../../bench/tests/trade/common.rs"]
mod machines;

mod actions;
mod binder;
mod build;
mod changes;
mod check_up;
mod claims;
mod closer;
mod common;
mod craft;
mod documents;
mod insight;
mod leads;
mod light;
mod maker;
mod marking;
mod ngspice;
mod not_electrical;
mod noted;
mod pairs;
mod patterns;
mod plugs;
mod practice;
mod predict;
mod recorded;
mod rules;
mod screens;
mod sharpness;
mod starting;
mod suspects;
mod test_sheets;
mod told;
