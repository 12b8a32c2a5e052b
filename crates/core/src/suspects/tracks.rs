//! Candidates followed through an attempt.

use std::collections::BTreeSet;

use super::candidates::{Candidate, candidates};
use crate::attempt::{Action, Answer, Lesson, Step};
use crate::bench::{Bench, BenchError, Complaint, complaint};
use crate::circuit::Place;
use crate::instruments::{Range, Reading, accuracy, ranges, read};

/// Rounding of the numerics, in volts or ohms, beside the meter's own error.
const NUMERIC: f64 = 1e-5;

/// A candidate with the benches of its ends.
struct Track<'l> {
    candidate: Candidate,
    benches: Vec<Bench<'l>>,
}

/// Everything that could still be wrong with a lesson's machine.
pub struct Suspects<'l> {
    lesson: &'l Lesson,
    tracks: Vec<Track<'l>>,
}

/// What one candidate says a meter shows: least and most, and whether it may wander.
#[derive(Debug, Clone, Copy)]
struct Span {
    least: f64,
    most: f64,
    wanders: bool,
    steady: bool,
}

impl<'l> Suspects<'l> {
    /// The candidates that agree with the complaint.
    ///
    /// # Errors
    /// [`BenchError`] when the lesson's own circuit has no solution. A candidate whose circuit has
    /// none stays: it cannot be ruled out.
    pub fn after_complaint(lesson: &'l Lesson) -> Result<Self, BenchError> {
        let seen = crate::attempt::Session::complaint_of(lesson)?;
        let mut out = Self {
            lesson,
            tracks: Vec::new(),
        };
        for candidate in candidates(&lesson.circuit) {
            let mut benches = Vec::new();
            let mut agrees = false;
            for end in &candidate.ends {
                let (bench, noticed) = crate::attempt::Session::tried(lesson, std::slice::from_ref(end))?;
                agrees |= noticed.same_as(&seen);
                benches.push(bench);
            }
            if agrees {
                out.tracks.push(Track { candidate, benches });
            }
        }
        Ok(out)
    }

    /// The places that hold a candidate.
    pub fn places(&self) -> BTreeSet<Place> {
        self.tracks.iter().map(|t| t.candidate.place).collect()
    }

    /// Puts every candidate through a step of the attempt and drops those that disagree with it.
    ///
    /// # Errors
    /// [`BenchError`] when a candidate's circuit has no solution in the new state.
    pub fn follow(&mut self, step: &Step) -> Result<(), BenchError> {
        match (&step.action, &step.answer) {
            (Action::SetControl { control, position }, _) => {
                for bench in self.tracks.iter_mut().flat_map(|t| &mut t.benches) {
                    let mut state = bench.state().clone();
                    state.set_control(control, position.clone());
                    bench.set(state)?;
                }
            }
            (Action::TryComplaint, Answer::Complaint { complaint }) => self.see(complaint)?,
            (Action::TakeReading { range, .. }, Answer::Reading { reading }) => {
                let keep = self.agreeing(reading, range.map(Range))?;
                let mut keep = keep.into_iter();
                self.tracks.retain(|_| keep.next().unwrap_or(true));
            }
            (Action::Repair { place, how }, _) => {
                let circuit = &self.lesson.circuit;
                if let Some(place) = circuit.place(place) {
                    for bench in self.tracks.iter_mut().flat_map(|t| &mut t.benches) {
                        crate::attempt::Session::repair_on(bench, place, *how)?;
                    }
                }
            }
            _ => {}
        }
        Ok(())
    }

    fn see(&mut self, seen: &Complaint) -> Result<(), BenchError> {
        let mut keep = Vec::new();
        for track in &mut self.tracks {
            let mut agrees = false;
            for bench in &mut track.benches {
                agrees |= complaint(bench)?.same_as(seen);
            }
            keep.push(agrees);
        }
        let mut keep = keep.into_iter();
        self.tracks.retain(|_| keep.next().unwrap_or(true));
        Ok(())
    }

    fn spans(&self, reading: &Reading) -> Result<Vec<Span>, BenchError> {
        let circuit = &self.lesson.circuit;
        let point = |id: &Option<String>| id.as_deref().and_then(|id| circuit.test_point(id));
        let (red, black) = (point(&reading.red), point(&reading.black));
        let widest = ranges(reading.function).last().copied();
        let mut out = Vec::new();
        for track in &self.tracks {
            let mut span = Span {
                least: f64::INFINITY,
                most: f64::NEG_INFINITY,
                wanders: false,
                steady: false,
            };
            for bench in &track.benches {
                let shown = read(bench, reading.function, None, red, black)?.shown;
                let (least, most) = shown.wanders.unwrap_or_else(|| {
                    let v = shown.value.number();
                    (v, v)
                });
                span.least = span.least.min(least);
                span.most = span.most.max(most);
                span.wanders |= shown.wanders.is_some();
                span.steady |= shown.wanders.is_none();
            }
            if let Some(widest) = widest.filter(|r| span.most >= r.0) {
                span.most = f64::INFINITY.max(widest.0);
            }
            out.push(span);
        }
        Ok(out)
    }

    fn agreeing(&self, reading: &Reading, range: Option<Range>) -> Result<Vec<bool>, BenchError> {
        let all = ranges(reading.function);
        let shown = &reading.shown;
        let spans = self.spans(reading)?;
        Ok(spans
            .into_iter()
            .map(|span| {
                if let Some((least, most)) = shown.wanders {
                    // A wandering display shows part of a cycle: it must lie within reach of one.
                    let slack = error(reading, least, range).max(error(reading, most, range));
                    return span.wanders && least >= span.least - slack && most <= span.most + slack;
                }
                if !span.steady {
                    return false;
                }
                match shown.value {
                    crate::units::Quantity::OverLimit => {
                        let limit = range.or(all.last().copied()).map_or(f64::INFINITY, |r| r.0);
                        span.most >= limit * (1.0 - 0.01)
                    }
                    crate::units::Quantity::Number(v) => {
                        let slack = error(reading, v, range);
                        v >= span.least - slack && v <= span.most + slack
                    }
                }
            })
            .collect())
    }

    /// How much is learnt from a reading, in bits, before it is taken: the expected fall in entropy
    /// over places when each candidate in turn is taken as true and the others are held against
    /// what it would show.
    ///
    /// # Errors
    /// As [`Suspects::follow`].
    pub fn worth(&self, reading: &Reading) -> Result<f64, BenchError> {
        let spans = self.spans(reading)?;
        let weights: Vec<f64> = self.tracks.iter().map(|t| t.candidate.prior).collect();
        let total: f64 = weights.iter().sum();
        if total <= 0.0 {
            return Ok(0.0);
        }
        let before = self.entropy(|_| true);
        let mut after = 0.0;
        for (n, own) in spans.iter().enumerate() {
            let left = self.entropy(|other| {
                let o = &spans[other];
                let slack = error(reading, own.most, None);
                let overlap = own.least - slack <= o.most + slack && o.least - slack <= own.most + slack;
                let same_kind = (own.wanders && o.wanders) || (own.steady && o.steady);
                same_kind && (overlap || (own.most.is_infinite() && o.most.is_infinite()))
            });
            after += weights[n] / total * left;
        }
        Ok((before - after).max(0.0))
    }

    /// Entropy over places of the candidates that pass, in bits.
    fn entropy(&self, pass: impl Fn(usize) -> bool) -> f64 {
        let mut by_place = std::collections::BTreeMap::new();
        for (n, track) in self.tracks.iter().enumerate().filter(|(n, _)| pass(*n)) {
            let _ = n;
            *by_place.entry(track.candidate.place).or_insert(0.0) += track.candidate.prior;
        }
        let total: f64 = by_place.values().sum();
        let term = |w: &f64| {
            let p = w / total;
            if p > 0.0 { -p * p.log2() } else { 0.0 }
        };
        by_place.values().map(term).sum()
    }
}

/// What a displayed value may be off by: the meter's accuracy twice (the candidate's display and
/// the student's), half a count and the numerics, in the coarser range at a boundary.
fn error(reading: &Reading, value: f64, range: Option<Range>) -> f64 {
    if !value.is_finite() {
        return 0.0;
    }
    let all = ranges(reading.function);
    let range = range.unwrap_or_else(|| {
        let fits = all.iter().find(|r| value.abs() * 1.02 < r.0);
        fits.or(all.last()).copied().unwrap_or(Range(1.0))
    });
    accuracy(reading.function, value, range) + range.count() + NUMERIC
}
