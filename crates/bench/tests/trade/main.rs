//! The trade at the bench, tested through the crates' front doors. One program holds all of it, so that it is
//! linked once and its tests fill every core; `cargo test -p cimento-bench --test trade ignition::` runs one
//! subject.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::approx_constant)]

// As the program itself.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

mod capacitor_ignition;
mod charging;
mod circuits;
mod common;
mod engine;
mod heating;
mod ignition;
mod instruments;
mod insulation;
mod mends;
mod module_ignition;
mod modules;
mod ngspice_in_time;
mod noticed;
mod parts;
mod path_line;
mod recipe;
mod registry;
mod ripple;
mod starts;
mod strokes;
mod tables;
