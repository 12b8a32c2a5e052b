//! Systems of equations that were analysed for one run and serve the next of the same structure.

use std::sync::{Mutex, PoisonError};

use crate::matrix::System;
use crate::netlist::Netlist;

/// So many are kept.
const MOST: usize = 12;

/// What runs leave for one another. It only saves time.
#[derive(Default)]
pub struct Spares(Mutex<Vec<System>>);

impl Spares {
    /// A system of a netlist's structure, if there is one.
    pub(super) fn take(&self, net: &Netlist) -> Option<System> {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let at = kept.iter().position(|system| system.fits(net))?;
        Some(kept.remove(at))
    }

    pub(super) fn put(&self, system: System) {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        kept.insert(0, system);
        kept.truncate(MOST);
    }
}
