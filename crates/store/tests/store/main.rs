//! The database, through the crate's front door: one program, so that it is linked once.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod keeping;
mod roster;
mod school;
mod upgrade;
