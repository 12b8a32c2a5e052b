//! The real page in a real browser: one program, so that it is linked once.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod barriers;
mod binder;
mod build;
mod circuits;
mod course;
mod deal;
mod diagram;
mod first_minute;
mod jumps;
mod lecture;
mod mending;
mod pair;
mod phone;
mod predict;
mod repair;
mod school;
mod sizes;
mod story;
mod test_sheets;
