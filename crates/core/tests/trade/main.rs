//! The trade, tested through the crate's front door. One program holds all of it, so that it is linked once and
//! its tests fill every core; `cargo test -p cimento-core --test trade ignition::` runs one subject.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::approx_constant)]

mod actions;
mod capacitor_ignition;
mod charging;
mod circuits;
mod common;
mod documents;
mod ignition;
mod instruments;
mod leads;
mod marking;
mod module_ignition;
mod modules;
mod ngspice;
mod ngspice_in_time;
mod pairs;
mod path_line;
mod practice;
mod rules;
mod screens;
mod sharpness;
mod starting;
mod strokes;
mod suspects;
mod tables;
