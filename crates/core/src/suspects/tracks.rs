//! Candidates followed through an attempt.

use std::cell::RefCell;
use std::collections::{BTreeMap, BTreeSet};
use std::rc::Rc;

use cimento_solver::Solver;

use super::candidates::{Candidate, candidates};
use crate::attempt::{Action, Answer, Lesson, Session, Step, perform, seen};
use crate::bench::{Bench, BenchError, Complaint, complaint};
use crate::circuit::Place;
use crate::instruments::{Range, Reading, TakeError, accuracy, ranges, take};
use crate::units::{Quantity, Swing};

/// Rounding of the numerics, in volts or ohms, beside the meter's own error.
const NUMERIC: f64 = 1e-5;

/// A candidate with a bench for each grid point that a living segment ends at.
#[derive(Clone)]
struct Track<'l> {
    candidate: Candidate,
    benches: Vec<Option<Bench<'l>>>,
    /// Segments that agree with everything so far.
    alive: Vec<bool>,
}

/// Everything that could still be wrong with a lesson's machine.
#[derive(Clone)]
pub struct Suspects<'l> {
    lesson: &'l Lesson,
    tracks: Vec<Track<'l>>,
}

/// What one bench or segment says a meter shows: least and most, and whether it may wander.
#[derive(Debug, Clone, Copy)]
struct Span {
    least: f64,
    most: f64,
    wanders: bool,
    steady: bool,
}

impl Span {
    fn hull(self, other: Self) -> Self {
        Self {
            least: self.least.min(other.least),
            most: self.most.max(other.most),
            wanders: self.wanders || other.wanders,
            steady: self.steady || other.steady,
        }
    }
}

/// A living segment: its track, its position there, what it predicts.
struct Predicted {
    track: usize,
    segment: usize,
    span: Span,
}

impl<'l> Track<'l> {
    /// Grid points at the two ends of a segment.
    fn ends(&self, segment: usize) -> [usize; 2] {
        [segment, (segment + 1).min(self.benches.len() - 1)]
    }

    /// Lets go of segments and of benches that no living segment needs.
    fn keep(&mut self, keep: impl Fn(usize) -> bool) {
        for segment in 0..self.alive.len() {
            self.alive[segment] &= keep(segment);
        }
        let mut needed = vec![false; self.benches.len()];
        for segment in (0..self.alive.len()).filter(|&s| self.alive[s]) {
            for end in self.ends(segment) {
                needed[end] = true;
            }
        }
        for (bench, needed) in self.benches.iter_mut().zip(needed) {
            if !needed {
                *bench = None;
            }
        }
    }

    /// Share of belief of one segment.
    fn weight(&self) -> f64 {
        self.candidate.prior / self.alive.len() as f64
    }
}

impl<'l> Suspects<'l> {
    /// The candidates that agree with the complaint.
    ///
    /// # Errors
    /// [`BenchError`] when one of the circuits has no solution.
    pub fn after_complaint(lesson: &'l Lesson) -> Result<Self, BenchError> {
        let seen = Session::complaint_of(lesson)?;
        let solver = Rc::new(RefCell::new(Solver::new()));
        let mut tracks = Vec::new();
        for candidate in candidates(&lesson.circuit) {
            let (mut benches, mut agrees) = (Vec::new(), Vec::new());
            for fault in &candidate.grid {
                let (bench, noticed) =
                    Session::tried_with(lesson, std::slice::from_ref(fault), &solver)?;
                agrees.push(noticed.same_as(&seen));
                benches.push(Some(bench));
            }
            let mut track = Track {
                alive: vec![true; candidate.segments()],
                candidate,
                benches,
            };
            let agreeing: Vec<bool> = (0..track.alive.len())
                .map(|s| track.ends(s).into_iter().any(|end| agrees[end]))
                .collect();
            track.keep(|s| agreeing[s]);
            tracks.push(track);
        }
        let mut out = Self { lesson, tracks };
        out.bury();
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
        for track in &mut self.tracks {
            let mut done = false;
            let mut agrees = vec![false; track.benches.len()];
            for (bench, agrees) in track.benches.iter_mut().zip(&mut agrees) {
                let Some(bench) = bench else { continue };
                let outcome = perform(bench, &step.action)?;
                done |= outcome.done;
                *agrees = match &step.answer {
                    Answer::LeadBlew { .. } => outcome.lead_blew,
                    Answer::Seen { text } => match &step.action {
                        Action::Inspect { place } => {
                            let place = bench.circuit.place(place);
                            place.is_some_and(|p| seen(bench, p) == *text)
                        }
                        _ => true,
                    },
                    _ => !outcome.lead_blew,
                };
            }
            if done || matches!(step.answer, Answer::Seen { .. }) {
                let agrees: Vec<bool> = (0..track.alive.len())
                    .map(|s| track.ends(s).into_iter().any(|end| agrees[end]))
                    .collect();
                track.keep(|s| agrees[s]);
            }
        }
        self.bury();
        match (&step.action, &step.answer) {
            (Action::TryComplaint, Answer::Complaint { complaint }) => self.see(complaint)?,
            (Action::TakeReading { range, .. }, Answer::Reading { reading }) => {
                let predicted = self.predict(reading)?;
                let gone = predicted
                    .iter()
                    .filter(|p| !agrees(reading, p.span, range.map(Range)));
                for p in gone {
                    self.tracks[p.track].alive[p.segment] = false;
                }
                self.bury();
            }
            _ => {}
        }
        Ok(())
    }

    fn bury(&mut self) {
        for track in &mut self.tracks {
            track.keep(|_| true);
        }
        self.tracks.retain(|t| t.alive.contains(&true));
    }

    fn see(&mut self, seen: &Complaint) -> Result<(), BenchError> {
        for track in &mut self.tracks {
            let mut agrees = Vec::new();
            for bench in &mut track.benches {
                agrees.push(match bench {
                    Some(bench) => complaint(bench)?.same_as(seen),
                    None => false,
                });
            }
            for segment in 0..track.alive.len() {
                track.alive[segment] &= track.ends(segment).into_iter().any(|end| agrees[end]);
            }
        }
        self.bury();
        Ok(())
    }

    /// What each living segment says of a reading: the span between its two ends.
    fn predict(&self, reading: &Reading) -> Result<Vec<Predicted>, BenchError> {
        let (red, black) = (reading.red.as_deref(), reading.black.as_deref());
        let predict = |bench: &Bench<'_>| match take(bench, reading.function, None, red, black) {
            Ok(reading) => Ok(span(&reading)),
            Err(TakeError::Bench(e)) => Err(e),
            Err(named) => Err(BenchError::NoSolution(named.to_string())),
        };
        let mut out = Vec::new();
        for (n, track) in self.tracks.iter().enumerate() {
            let mut at: Vec<Option<Span>> = Vec::new();
            for bench in &track.benches {
                at.push(match bench {
                    Some(bench) => Some(predict(bench)?),
                    None => None,
                });
            }
            for segment in (0..track.alive.len()).filter(|&s| track.alive[s]) {
                let [a, b] = track.ends(segment);
                if let (Some(a), Some(b)) = (at[a], at[b]) {
                    let span = a.hull(b);
                    out.push(Predicted {
                        track: n,
                        segment,
                        span,
                    });
                }
            }
        }
        Ok(out)
    }

    /// How much is learnt from a reading, in bits, before it is taken: the expected fall in entropy
    /// over places when each candidate in turn is taken as true and the others are held against
    /// what it would show.
    ///
    /// # Errors
    /// As [`Suspects::follow`].
    pub fn worth(&self, reading: &Reading) -> Result<f64, BenchError> {
        let predicted = self.predict(reading)?;
        let weight = |p: &Predicted| self.tracks[p.track].weight();
        let total: f64 = predicted.iter().map(weight).sum();
        if total <= 0.0 {
            return Ok(0.0);
        }
        let before = self.entropy(&predicted, |_| true);
        let mut after = 0.0;
        for own in &predicted {
            let slack = error(reading, own.span.most, None);
            let left = self.entropy(&predicted, |other| confusable(own.span, other.span, slack));
            after += weight(own) / total * left;
        }
        Ok((before - after).max(0.0))
    }

    /// Entropy over places of the segments that pass, in bits.
    fn entropy(&self, predicted: &[Predicted], pass: impl Fn(&Predicted) -> bool) -> f64 {
        let mut by_place = BTreeMap::new();
        for p in predicted.iter().filter(|p| pass(p)) {
            let track = &self.tracks[p.track];
            *by_place.entry(track.candidate.place).or_insert(0.0) += track.weight();
        }
        let total: f64 = by_place.values().sum();
        let term = |w: &f64| {
            let p = w / total;
            if p > 0.0 { -p * p.log2() } else { 0.0 }
        };
        by_place.values().map(term).sum()
    }
}

/// The span of one bench's reading.
fn span(reading: &Reading) -> Span {
    let shown = &reading.shown;
    let v = shown.value.number();
    let Swing { least, most } = shown.wanders.unwrap_or(Swing { least: v, most: v });
    Span {
        least,
        most,
        wanders: shown.wanders.is_some(),
        steady: shown.wanders.is_none(),
    }
}

/// Two spans that one reading could come from.
fn confusable(own: Span, other: Span, slack: f64) -> bool {
    let overlap =
        own.least - slack <= other.most + slack && other.least - slack <= own.most + slack;
    let both_open = own.most.is_infinite() && other.most.is_infinite();
    let same_kind = (own.wanders && other.wanders) || (own.steady && other.steady);
    same_kind && (overlap || both_open)
}

/// Whether a segment could have shown a reading.
fn agrees(reading: &Reading, span: Span, range: Option<Range>) -> bool {
    let shown = &reading.shown;
    if let Some(Swing { least, most }) = shown.wanders {
        let slack = error(reading, least, range).max(error(reading, most, range));
        return span.wanders && least >= span.least - slack && most <= span.most + slack;
    }
    if !span.steady {
        return false;
    }
    match shown.value {
        Quantity::OverLimit => {
            let limit = range.or(ranges(reading.function).last().copied());
            // The candidate's own display may stand just under the limit.
            span.most >= limit.map_or(f64::INFINITY, |r| r.0) * 0.99
        }
        Quantity::Number(v) => {
            let slack = error(reading, v, range);
            v >= span.least - slack && v <= span.most + slack
        }
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
