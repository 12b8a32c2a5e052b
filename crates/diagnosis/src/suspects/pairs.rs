//! Pairs of faults, for when no single one explains what was seen and read.
//!
//! Each single fault is first held against everything by itself: what it gets wrong. Two of them are
//! worth trying together when neither gets wrong what the other does; the likeliest are then put on
//! one machine and have to agree with everything. Two faults that only together make one reading are
//! not thought of.

use std::collections::BTreeSet;
use std::sync::Arc;

use super::candidates::Candidate;
use super::screens::ScreenSpan;
use super::segments::{End, Segment};
use super::tracks::{Suspects, shown, signature};
use crate::attempt::{Evidence, Step, perform, seen};
use cimento_bench::instruments::Meter;
use cimento_bench::{Bench, BenchError, Complaint};
use cimento_model::faults::Fault;

/// So many of the likeliest pairs are put on a machine, so many that agree are held, and of those so
/// many for the same two places.
const MOST_TRIED: usize = 6000;
const MOST_HELD: usize = 200;
const MOST_ALIKE: usize = 2;
/// Belief in the likeliest pair beside all single faults together; common practice.
const BESIDE_SINGLES: f64 = 1e-3;

/// Something seen or read that a fault by itself gets wrong.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
enum Wrong {
    /// What a part does in a state of the trial.
    Sign(String, String),
    /// A step of the attempt.
    Step(usize),
}

/// A single fault at a point of its grid, with what it gets wrong.
struct Held {
    candidate: usize,
    point: usize,
    wrong: BTreeSet<Wrong>,
}

/// The signs of two trials that are not in both, in the states that both came to.
fn differs(a: &Complaint, b: &Complaint) -> BTreeSet<Wrong> {
    let mut out = BTreeSet::new();
    for trial in &a.trials {
        let Some(other) = b.trials.iter().find(|t| t.label == trial.label) else {
            continue;
        };
        let (a, b): (BTreeSet<_>, BTreeSet<_>) = (
            trial.signs().into_iter().collect(),
            other.signs().into_iter().collect(),
        );
        let apart = a.symmetric_difference(&b);
        out.extend(apart.map(|(part, _)| Wrong::Sign(trial.label.clone(), part.clone())));
    }
    out
}

impl Suspects {
    /// Opens pairs when no single fault is left and that has not been done.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit has no solution.
    pub(super) fn open_pairs(&mut self) -> Result<(), BenchError> {
        let explained =
            |s: &Segment| s.candidate < self.singles || self.candidates[s.candidate].is_sound();
        if self.paired || self.segments.iter().any(explained) {
            return Ok(());
        }
        self.paired = true;
        let mut held = Vec::new();
        for candidate in 0..self.singles {
            let last = self.candidates[candidate].grid.len() - 1;
            for point in BTreeSet::from([0, last / 2, last]) {
                let wrong = self.gets_wrong(&self.candidates[candidate].grid[point])?;
                held.push(Held {
                    candidate,
                    point,
                    wrong,
                });
            }
        }
        let candidates = Arc::clone(&self.candidates);
        let place = |h: &Held| candidates[h.candidate].places[0];
        let prior = |a: usize, b: usize| candidates[a].prior * candidates[b].prior;
        let mut together: Vec<(f64, &Held, &Held)> = Vec::new();
        for (n, a) in held.iter().enumerate() {
            for b in &held[n + 1..] {
                if place(a) != place(b) && a.wrong.is_disjoint(&b.wrong) {
                    together.push((prior(a.candidate, b.candidate), a, b));
                }
            }
        }
        together.sort_by(|a, b| b.0.total_cmp(&a.0));
        let mut pairs: Vec<[&Held; 2]> = Vec::new();
        let same = |pair: &[&Held; 2], a: &Held, b: &Held| {
            pair[0].candidate == a.candidate && pair[1].candidate == b.candidate
        };
        let mut tried = 0;
        for (_, a, b) in together {
            let places = [place(a), place(b)];
            let alike = pairs.iter().filter(|p| p.map(place) == places).count();
            if alike >= MOST_ALIKE || pairs.iter().any(|p| same(p, a, b)) {
                continue;
            }
            if tried == MOST_TRIED || pairs.len() == MOST_HELD {
                break;
            }
            tried += 1;
            let at = [a, b].map(|h| (h.candidate, h.point));
            if self.agreeing(&self.both(at))?.is_some() {
                pairs.push([a, b]);
            }
        }
        let belief = |p: &[&Held; 2]| prior(p[0].candidate, p[1].candidate);
        let likeliest = pairs.iter().map(belief).fold(0.0, f64::max);
        for pair in pairs {
            let at = pair.map(|h| (h.candidate, h.point));
            self.hold(at, BESIDE_SINGLES * belief(&pair) / likeliest)?;
        }
        Ok(())
    }

    /// The faults of two candidates at points of their grids.
    fn both(&self, at: [(usize, usize); 2]) -> Vec<Fault> {
        let faults = |(candidate, point): (usize, usize)| &self.candidates[candidate].grid[point];
        at.into_iter().flat_map(faults).cloned().collect()
    }

    /// What a machine gets wrong of all that was seen and read.
    fn gets_wrong(&self, faults: &[Fault]) -> Result<BTreeSet<Wrong>, BenchError> {
        let (mut bench, said) = self.lesson().trial().run(faults, &self.shared)?;
        let mut out = differs(&self.lesson().symptom, &said);
        self.replay(&mut bench, &mut |step| {
            out.insert(Wrong::Step(step));
            true
        })?;
        Ok(out)
    }

    /// The machine with some faults when it agrees with all that was seen and read.
    fn agreeing(&self, faults: &[Fault]) -> Result<Option<Bench>, BenchError> {
        let (mut bench, said) =
            self.lesson()
                .trial()
                .run_beside(&self.lesson().symptom, faults, &self.shared, None)?;
        let mut agrees = said.same_as(&self.lesson().symptom);
        if agrees {
            self.replay(&mut bench, &mut |_| {
                agrees = false;
                false
            })?;
        }
        Ok(agrees.then_some(bench))
    }

    /// Puts a machine through the evidence and tells each step that it answers otherwise; goes on while
    /// told to.
    fn replay(
        &self,
        bench: &mut Bench,
        otherwise: &mut dyn FnMut(usize) -> bool,
    ) -> Result<(), BenchError> {
        let mut meter = Meter::default();
        for step in &self.evidence {
            if !self.answers(&mut meter, bench, step)? && !otherwise(step.no) {
                break;
            }
        }
        Ok(())
    }

    /// Holds a pair: as it is at the point where it agrees, and as far as the one or the other of its
    /// faults may be milder or worse.
    fn hold(&mut self, at: [(usize, usize); 2], prior: f64) -> Result<(), BenchError> {
        let [(a, first), (b, second)] = at;
        let points = |n: usize| 0..self.candidates[n].grid.len();
        let along_a = points(a).map(|point| [(a, point), (b, second)]);
        let along_b = points(b).map(|point| [(a, first), (b, point)]);
        let mut ends = self.row(along_a.collect())?;
        if self.candidates[b].grid.len() > 1 {
            ends.extend(self.row(along_b.collect())?);
        }
        let places = [a, b].map(|n| self.candidates[n].places.clone()).concat();
        let weight = prior / ends.len().max(1) as f64;
        let candidates = Arc::make_mut(&mut self.candidates);
        candidates.push(Candidate {
            places,
            mode: candidates[a].mode,
            grid: Vec::new(),
            prior,
        });
        let candidate = candidates.len() - 1;
        for ends in ends {
            self.roots += 1;
            self.segments.push(Segment {
                candidate,
                root: self.roots - 1,
                ends,
                weight,
                margin: 0.0,
            });
        }
        Ok(())
    }

    /// The points of a row that agree, with what lies between neighbours in one signature.
    fn row(&self, points: Vec<[(usize, usize); 2]>) -> Result<Vec<[Arc<End>; 2]>, BenchError> {
        let mut out: Vec<[Arc<End>; 2]> = Vec::new();
        let mut before: Option<Arc<End>> = None;
        for at in points {
            let faults = self.both(at);
            let Some(bench) = self.agreeing(&faults)? else {
                before = None;
                continue;
            };
            let end = Arc::new(End {
                severity: Candidate::severity(&faults),
                benches: vec![bench],
            });
            let alike = |b: &Arc<End>| signature(&b.benches[0]) == signature(&end.benches[0]);
            let from = before.filter(alike).unwrap_or_else(|| Arc::clone(&end));
            // A point by itself gives way to the stretch that begins at it.
            if let Some(last) = out.last_mut()
                && Arc::ptr_eq(&last[0], &last[1])
                && Arc::ptr_eq(&last[1], &from)
            {
                last[1] = Arc::clone(&end);
            } else {
                out.push([from, Arc::clone(&end)]);
            }
            before = Some(end);
        }
        Ok(out)
    }

    /// Whether a machine answers a step as was seen; it is put through it.
    fn answers(
        &self,
        meter: &mut Meter,
        bench: &mut Bench,
        step: &Step,
    ) -> Result<bool, BenchError> {
        Ok(match step.evidence() {
            Evidence::Nothing => true,
            Evidence::Machine => perform(bench, &step.action)?.answers(&step.answer),
            Evidence::OfMeter(change) => {
                change(meter);
                true
            }
            Evidence::Reading { reading, range } => {
                let (red, black) = (reading.red.as_deref(), reading.black.as_deref());
                let span = shown(meter, bench, reading.function, red, black)?;
                meter.fuse_blown |= reading.blew;
                span.agrees(reading, range)
            }
            Evidence::Look { place, text } => {
                let place = self.lesson().circuit.place(place);
                place.is_none_or(|place| seen(bench, place) == text)
            }
            Evidence::Screen { scope, capture } => {
                ScreenSpan::of(std::slice::from_ref(bench), scope)?.agrees(capture)
            }
        })
    }
}
