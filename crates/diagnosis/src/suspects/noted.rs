//! Readings noted at a real machine, of which nobody knows what is wrong: which single faults would make them.
//!
//! A real machine is not the drawn one to the last millivolt: a reading may lie as far from what a fault says as an
//! instructor lets a sound machine's lie from what it should be.

use std::collections::BTreeMap;
use std::sync::Arc;

use super::candidates::{Candidate, candidates};
use super::spans::{Span, error};
use crate::key::tolerance;
use crate::limits::Limits;
use cimento_bench::Bench;
use cimento_bench::instruments::{Function, Reading, TakeError, take};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;

/// One reading of a real machine.
#[derive(Debug, Clone, PartialEq)]
pub struct Noted {
    pub state: OperatingState,
    pub function: Function,
    pub red: String,
    pub black: Option<String>,
    pub shows: Quantity,
}

/// What may be wrong after a reading.
#[derive(Debug, Clone, PartialEq)]
pub struct Left {
    /// What a sound machine shows.
    pub healthy: Reading,
    /// The ways of failing that are left at each place.
    pub faults: BTreeMap<Place, Vec<&'static str>>,
    /// A sound machine would show all of it too.
    pub may_be_sound: bool,
}

/// What may be wrong after each of some readings.
///
/// # Errors
/// [`TakeError`] when a reading can't be taken there, or a machine has no solution.
pub fn what_is_left(
    circuit: &Arc<Circuit>,
    limits: &Limits,
    noted: &[Noted],
) -> Result<Vec<Left>, TakeError> {
    let sound = Bench::new(circuit, &[])?;
    let healthy = all_readings(&sound, noted)?;
    let tolerances = healthy.iter().zip(noted).map(|(reading, note)| {
        let shows = note.shows.number();
        tolerance(circuit, limits, reading, None).max(error(note.function, shows, None))
    });
    let tolerances: Vec<f64> = tolerances.collect();
    let nothing_yet = |reading: &Reading| Left {
        healthy: reading.clone(),
        faults: BTreeMap::new(),
        may_be_sound: false,
    };
    let mut out: Vec<Left> = healthy.iter().map(nothing_yet).collect();
    // How many readings a stretch between two severities stands, from the first on.
    let stands = |a: &[Reading], b: &[Reading]| {
        let both = a.iter().zip(b).zip(noted).zip(&tolerances);
        let agree = both.take_while(|(((a, b), note), tolerance)| {
            let span = |r: &Reading| Span::shown(&r.shown.value, r.shown.wanders);
            let either = span(a).hull(span(b)).spread(**tolerance);
            match note.shows {
                Quantity::Number(v) => (either.least..=either.most).contains(&v),
                Quantity::OverLimit => either.most.is_infinite(),
            }
        });
        agree.count()
    };
    let count = stands(&healthy, &healthy);
    out.iter_mut()
        .take(count)
        .for_each(|l| l.may_be_sound = true);
    for candidate in candidates(circuit, None) {
        let grid = readings_of(&sound, circuit, &candidate, noted)?;
        let ends = grid.iter().zip(grid.iter().skip(1).chain(grid.last()));
        let count = ends.map(|(a, b)| stands(a, b)).max().unwrap_or(0);
        for left in out.iter_mut().take(count) {
            for place in &candidate.places {
                let modes = left.faults.entry(*place).or_default();
                if !modes.contains(&candidate.mode) {
                    modes.push(candidate.mode);
                }
            }
        }
    }
    Ok(out)
}

/// What each severity of a candidate makes the instruments show.
fn readings_of(
    sound: &Bench,
    circuit: &Circuit,
    candidate: &Candidate,
    noted: &[Noted],
) -> Result<Vec<Vec<Reading>>, TakeError> {
    let along = candidate
        .grid
        .iter()
        .flat_map(|f| Candidate::along(circuit, f));
    along
        .map(|faults| all_readings(&sound.beside(&faults)?, noted))
        .collect()
}

fn all_readings(bench: &Bench, noted: &[Noted]) -> Result<Vec<Reading>, TakeError> {
    let mut bench = bench.clone();
    let one = |note: &Noted| {
        if *bench.state() != note.state {
            bench.set(note.state.clone())?;
        }
        let black = note.black.as_deref();
        take(&bench, note.function, None, Some(&note.red), black)
    };
    noted.iter().map(one).collect()
}
